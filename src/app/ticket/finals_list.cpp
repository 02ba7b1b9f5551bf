#include "app/ticket/finals_list.h"

#include <QClipboard>
#include <QContextMenuEvent>
#include <QDesktopServices>
#include <QDrag>
#include <QFileInfo>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QImageReader>
#include <QLabel>
#include <QLocale>
#include <QMenu>
#include <QMimeData>
#include <QMouseEvent>
#include <QProgressBar>
#include <QPushButton>
#include <QUrl>
#include <QVBoxLayout>

#include "app/style.h"
#include "app/ticket/section.h"
#include "app/window/background.h"
#include "app/window/finals.h"
#include "session/summary.h"

namespace app {

namespace {

using session::FinalStatus;

QString sentence(const Finals::Entry& e)
{
    const session::FinalSettings& s = e.final.settings;
    const QString size = Section::tr("%1 x %2 px").arg(s.widthPx).arg(s.heightPx);
    const QString samples = Section::tr("%1 samples").arg(e.status.samples, 0, 'f', 0);
    switch (e.status.state) {
    case FinalStatus::State::Waiting:
        return Section::tr("%1, waits").arg(size);
    case FinalStatus::State::Running:
        return e.status.secondsLeft >= 0
                   ? Section::tr("%1, %2, about %3 to go").arg(size, samples, text(session::durationText(e.status.secondsLeft)))
                   : Section::tr("%1, %2").arg(size, samples);
    case FinalStatus::State::Stopped:
        return Section::tr("%1, stopped at %2").arg(size, samples);
    case FinalStatus::State::Finished:
        return Section::tr("Saved: %1 (%2; its light is kept, %3)")
            .arg(QFileInfo(text(e.final.settings.out)).fileName(), size, QLocale().formattedDataSize(static_cast<qint64>(e.bytes)));
    case FinalStatus::State::Failed:
        return e.status.error ? text(base::oneLine(*e.status.error)) : QString();
    }
    return {};
}

// The file as other programs take it.
QMimeData* fileData(const QString& path)
{
    auto* data = new QMimeData;
    data->setUrls({QUrl::fromLocalFile(path)});
    data->setText(path);
    return data;
}

// A saved picture, small: it is dragged out into another program as its file.
class SavedPicture : public QLabel {
public:
    explicit SavedPicture(QString path) : m_path(std::move(path))
    {
        setObjectName("export.picture");
        setFixedSize(QSize(64, 48) * currentLook().textPercent / 100);
        setAlignment(Qt::AlignCenter);
        setCursor(Qt::OpenHandCursor);
        setToolTip(Section::tr("Drag it into another program; right click for more"));
        setAccessibleName(Section::tr("Saved picture %1").arg(QFileInfo(m_path).fileName()));
        setText(QFileInfo(m_path).suffix().toUpper());  // until it is there; of what has no picture, its kind
    }
    void showImage(QImage image)
    {
        image.setDevicePixelRatio(devicePixelRatioF());
        setPixmap(QPixmap::fromImage(std::move(image)));
    }

protected:
    void mousePressEvent(QMouseEvent* event) override { m_from = event->position().toPoint(); }
    void mouseMoveEvent(QMouseEvent* event) override
    {
        if (!(event->buttons() & Qt::LeftButton) ||
            (event->position().toPoint() - m_from).manhattanLength() < QGuiApplication::styleHints()->startDragDistance())
            return;
        auto* drag = new QDrag(this);
        drag->setMimeData(fileData(m_path));
        drag->setPixmap(pixmap());
        drag->exec(Qt::CopyAction);
    }

private:
    QString m_path;
    QPoint m_from;
};

// One line for each final: what it is, how far, and what can be done with it.
class FinalsList : public QWidget {
public:
    // Those of the open work, or of the others.
    FinalsList(Finals* finals, bool own) : m_finals(finals), m_own(own)
    {
        setObjectName(own ? "export.finals" : "export.others.finals");
        m_box = new QVBoxLayout(this);
        m_box->setContentsMargins(0, 0, 0, 0);
        m_box->setSpacing(4);
        QObject::connect(finals, &Finals::changed, this, [this] { show(); });
        show();
    }
    void show()
    {
        showFinals();
        if (m_own)
            showKept();
    }

protected:
    // A form does not hear of lines that came while it was hidden: the list says its height itself.
    bool event(QEvent* event) override
    {
        const bool done = QWidget::event(event);
        if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Resize || event->type() == QEvent::Show)
            setMinimumHeight(m_box->hasHeightForWidth() ? m_box->heightForWidth(width()) : m_box->sizeHint().height());
        return done;
    }

private:
    struct Line {
        QString folder;
        FinalStatus::State state;
        QWidget* widget;
        QLabel* label;
        QProgressBar* bar;
    };
    // What a right click on a line offers. Its buttons' own commands come first, then what is done with the file.
    void contextMenuEvent(QContextMenuEvent* event) override
    {
        const auto line =
            std::find_if(m_lines.begin(), m_lines.end(), [&](const Line& l) { return l.widget->geometry().contains(event->pos()); });
        if (line == m_lines.end())
            return;
        auto* menu = new QMenu(this);
        menu->setObjectName("export.menu");
        menu->setAttribute(Qt::WA_DeleteOnClose);
        for (auto* button : line->widget->findChildren<QPushButton*>())
            menu->addAction(button->text(), button, &QPushButton::click)->setObjectName(button->objectName() + ".action");
        const auto entry = std::find_if(m_finals->entries().begin(), m_finals->entries().end(),
                                        [&](const Finals::Entry& e) { return text(e.final.folder) == line->folder; });
        if (entry != m_finals->entries().end())
            addFileCommands(menu, *entry);
        menu->popup(event->globalPos());
    }
    void addFileCommands(QMenu* menu, const Finals::Entry& entry)
    {
        const QString folder = text(entry.final.folder), path = text(entry.final.settings.out);
        if (Finals::canGoFurther(entry))
            menu->addAction(Section::tr("Render it cleaner"), m_finals, [=, this] { m_finals->goFurther(folder); })
                ->setObjectName("export.further");
        if (!QFileInfo::exists(path))
            return;
        menu->addSeparator();
        menu->addAction(Section::tr("Open the picture"), [path] { QDesktopServices::openUrl(QUrl::fromLocalFile(path)); });
        menu->addAction(Section::tr("Show in folder"), [path] { QDesktopServices::openUrl(QUrl::fromLocalFile(QFileInfo(path).path())); });
        menu->addAction(Section::tr("Copy the file"), [path] { QGuiApplication::clipboard()->setMimeData(fileData(path)); })
            ->setObjectName("export.copyFile");
        menu->addAction(Section::tr("Copy its place"), [path] { QGuiApplication::clipboard()->setText(path); });
    }
    // Reads a saved picture in the background; its label may be gone by then.
    void readPicture(QPointer<SavedPicture> label, const QString& path)
    {
        m_background.run(
            [path, most = label->size() * label->devicePixelRatioF()](const base::Progress&) {
                QImageReader reader(path);
                const QImage image = reader.read();
                return image.isNull() ? image : image.scaled(most, Qt::KeepAspectRatio, Qt::SmoothTransformation);
            },
            [label](const QImage& image) {
                if (label && !image.isNull())
                    label->showImage(image);
            });
    }
    void showFinals()
    {
        std::vector<Finals::Entry> entries;
        std::copy_if(m_finals->entries().begin(), m_finals->entries().end(), std::back_inserter(entries),
                     [&](const Finals::Entry& e) { return m_finals->isOwn(e) == m_own; });
        const bool same = entries.size() == m_lines.size() &&
                          std::equal(entries.begin(), entries.end(), m_lines.begin(), [](const auto& e, const Line& l) {
                              return text(e.final.folder) == l.folder && e.status.state == l.state;
                          });
        if (!same) {
            for (Line& l : m_lines)
                l.widget->deleteLater();
            m_lines.clear();
            for (const auto& e : entries)
                m_lines.push_back(line(e));
        }
        for (std::size_t i = 0; i < m_lines.size(); ++i) {
            m_lines[i].label->setText(sentence(entries[i]));
            m_lines[i].bar->setValue(static_cast<int>(entries[i].status.fraction * 1000));
        }
    }
    // What the work itself keeps.
    void showKept()
    {
        const std::vector<QString> names = m_finals->keptInWork();
        if (names == m_keptNames)
            return;
        m_keptNames = names;
        for (QWidget* w : m_kept)
            w->deleteLater();
        m_kept.clear();
        for (const QString& name : names) {
            auto* widget = new QWidget;
            auto* column = new QVBoxLayout(widget);
            column->setContentsMargins(0, 4, 0, 0);
            column->setSpacing(2);
            auto* label = new QLabel(Section::tr("In the work: %1 (%2)")
                                         .arg(QFileInfo(name).completeBaseName(),
                                              QLocale().formattedDataSize(static_cast<qint64>(m_finals->bytesInWork(name)))));
            label->setObjectName("export.kept.sentence");
            label->setWordWrap(true);
            column->addWidget(label);
            auto* row = new QHBoxLayout;
            row->addStretch(1);
            addButton(row, widget, "export.kept.desk", Section::tr("Light desk"),
                      Section::tr("Opens the kept picture: its lights are mixed without rendering, and it is saved again"),
                      [=, this] { Q_EMIT m_finals->keptWanted(name); });
            addButton(row, widget, "export.kept.remove", Section::tr("Remove"),
                      Section::tr("Takes it out of the work; a saved picture stays"), [=, this] { m_finals->removeFromWork(name); });
            column->addLayout(row);
            m_box->addWidget(widget);
            m_kept.push_back(widget);
        }
    }
    template <class Run>
    static void addButton(QHBoxLayout* row, QWidget* owner, const char* id, const QString& label, const QString& tip, Run run)
    {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        QObject::connect(b, &QPushButton::clicked, owner, run);
        row->addWidget(b);
    }
    Line line(const Finals::Entry& e)
    {
        Line l{text(e.final.folder), e.status.state, new QWidget, new QLabel, new QProgressBar};
        auto* column = new QVBoxLayout(l.widget);
        column->setContentsMargins(0, 4, 0, 0);
        column->setSpacing(2);
        l.label->setObjectName("export.sentence");
        l.label->setWordWrap(true);
        auto* top = new QHBoxLayout;
        top->setSpacing(2 * kGrid);
        if (const QString path = text(e.final.settings.out); e.status.state == FinalStatus::State::Finished && QFileInfo::exists(path)) {
            auto* picture = new SavedPicture(path);
            top->addWidget(picture);
            readPicture(picture, path);
        }
        top->addWidget(l.label, 1);
        column->addLayout(top);
        auto* row = new QHBoxLayout;
        l.bar->setRange(0, 1000);
        l.bar->setTextVisible(false);
        const bool busy = e.status.state == FinalStatus::State::Running || e.status.state == FinalStatus::State::Waiting;
        l.bar->setVisible(busy);
        row->addWidget(l.bar, 1);
        const auto button = [&](const char* id, const QString& label, const QString& tip, auto run) {
            addButton(row, l.widget, id, label, tip, run);
        };
        const QString folder = l.folder;
        if (busy) {
            button("export.stopAndSave", Section::tr("Stop and save"), Section::tr("Saves the picture as far as it is; it can go on later"),
                   [=, this] { m_finals->stop(folder, true); });
            button("export.stop", Section::tr("Stop"), Section::tr("Keeps what is there; it can go on later, also after a restart"),
                   [=, this] { m_finals->stop(folder, false); });
        } else {
            if (e.status.state == FinalStatus::State::Finished) {
                button("export.keep", Section::tr("Keep in the work"),
                       Section::tr("The work takes this picture along, so that its light can be mixed later and elsewhere"),
                       [=, this] { m_finals->keepInWork(folder); });
                button("export.desk", Section::tr("Light desk"),
                       Section::tr("Opens the kept picture: its lights are mixed without rendering, and it is saved again"),
                       [=, this] { Q_EMIT m_finals->deskWanted(folder); });
            } else {
                button("export.goOn", Section::tr("Go on"), Section::tr("From where it stopped"), [=, this] { m_finals->goOn(folder); });
                if (e.status.state == FinalStatus::State::Stopped)
                    button("export.asItIs", Section::tr("Save as it is"),
                           Section::tr("Writes the picture as far as it is; it can still go on"),
                           [=, this] { m_finals->saveAsItIs(folder); });
            }
            button("export.remove", Section::tr("Remove"), Section::tr("Takes the line and its kept light away; a saved picture stays"),
                   [=, this] { m_finals->remove(folder); });
        }
        column->addLayout(row);
        m_box->addWidget(l.widget);
        return l;
    }

    Finals* m_finals;
    bool m_own;
    QVBoxLayout* m_box;
    std::vector<Line> m_lines;
    std::vector<QString> m_keptNames;
    std::vector<QWidget*> m_kept;
    Background m_background;
};

}  // namespace

FinalsListParts finalsList(Finals* finals, bool own)
{
    auto* list = new FinalsList(finals, own);
    return {list, [list] { list->show(); }};
}

}  // namespace app
