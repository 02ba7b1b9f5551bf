// Export: the final render, its progress, and other files.
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QProgressBar>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/ticket/sections.h"
#include "app/window/finals_desk.h"
#include "files/still_file.h"
#include "session/summary.h"

namespace app {

namespace {

using session::FinalStatus;
using session::Kind;

QString sentence(const FinalsDesk::Entry& e)
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
        return Section::tr("Saved: %1 (%2; its film takes %3)")
            .arg(QFileInfo(text(e.final.settings.out)).fileName(), size, QLocale().formattedDataSize(static_cast<qint64>(e.bytes)));
    case FinalStatus::State::Failed:
        return e.status.error ? text(base::oneLine(*e.status.error)) : QString();
    }
    return {};
}

QString stillPatterns()
{
    QStringList patterns;
    for (const files::Exporter& e : files::exporters())
        if (const QString pattern = QString("*%1").arg(e.ending); !patterns.contains(pattern))
            patterns << pattern;
    return patterns.join(' ');
}

// One line for each final: what it is, how far, and what can be done with it.
class FinalsList : public QWidget {
public:
    explicit FinalsList(FinalsDesk* finals) : m_finals(finals)
    {
        setObjectName("export.finals");
        m_box = new QVBoxLayout(this);
        m_box->setContentsMargins(0, 0, 0, 0);
        m_box->setSpacing(4);
        QObject::connect(finals, &FinalsDesk::changed, this, [this] { show(); });
        show();
    }
    void show()
    {
        showFinals();
        showKept();
    }

private:
    struct Line {
        QString folder;
        FinalStatus::State state;
        QWidget* widget;
        QLabel* label;
        QProgressBar* bar;
    };
    void showFinals()
    {
        const auto& entries = m_finals->entries();
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
    Line line(const FinalsDesk::Entry& e)
    {
        Line l{text(e.final.folder), e.status.state, new QWidget, new QLabel, new QProgressBar};
        auto* column = new QVBoxLayout(l.widget);
        column->setContentsMargins(0, 4, 0, 0);
        column->setSpacing(2);
        l.label->setObjectName("export.sentence");
        l.label->setWordWrap(true);
        column->addWidget(l.label);
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
            button("export.stop", Section::tr("Stop"), Section::tr("Keeps the film; it can go on later, also after a restart"),
                   [=, this] { m_finals->stop(folder, false); });
        } else {
            if (e.status.state == FinalStatus::State::Finished) {
                button("export.keep", Section::tr("Keep in the work"),
                       Section::tr("The work takes this picture along, so that its light can be mixed later and elsewhere"),
                       [=, this] { m_finals->keepInWork(folder); });
                button("export.desk", Section::tr("Light desk"),
                       Section::tr("Opens the kept picture: its lights are mixed without rendering, and it is saved again"),
                       [=, this] { Q_EMIT m_finals->deskWanted(folder); });
            } else
                button("export.goOn", Section::tr("Go on"), Section::tr("From where it stopped"), [=, this] { m_finals->goOn(folder); });
            button("export.remove", Section::tr("Remove"), Section::tr("Takes the line and its film away; a saved picture stays"),
                   [=, this] { m_finals->remove(folder); });
        }
        column->addLayout(row);
        m_box->addWidget(l.widget);
        return l;
    }

    FinalsDesk* m_finals;
    QVBoxLayout* m_box;
    std::vector<Line> m_lines;
    std::vector<QString> m_keptNames;
    std::vector<QWidget*> m_kept;
};

}  // namespace

Section* exportSection(const Desk& desk, FinalsDesk* finals)
{
    auto* section = new Section(desk, "export", Section::tr("Export"), [=] { return text(session::exportSummary(desk.session->work())); });
    Rows* rows = section->rows();

    auto* file = new QWidget;
    auto* fileRow = new QHBoxLayout(file);
    fileRow->setContentsMargins(0, 0, 0, 0);
    fileRow->setSpacing(4);
    auto* path = new QLineEdit;
    path->setObjectName("export.path");
    path->setAccessibleName(Section::tr("File"));
    path->setToolTip(Section::tr("PNG for a picture, EXR for all passes in linear light"));
    fileRow->addWidget(path, 1);
    auto* browse = new QPushButton(Section::tr("..."));
    browse->setObjectName("export.browse");
    browse->setAccessibleName(Section::tr("Choose the file"));
    browse->setFixedWidth(32);
    fileRow->addWidget(browse);
    // What the file shall be follows a typed ending.
    const auto takePath = [=] {
        finals->setPath(path->text());
        path->setModified(false);
        const work::Output& now = desk.session->work().output();
        if (const auto exporter = files::exporterFor(path->text().toStdString(), now.format); exporter && (*exporter)->format != now.format)
            desk.session->edit(Section::tr("Format").toStdString(), [&](work::Work& w) { w.output().format = (*exporter)->format; });
    };
    QObject::connect(path, &QLineEdit::editingFinished, section, [=] {
        if (path->isModified())
            takePath();
    });
    QObject::connect(browse, &QPushButton::clicked, section, [=] {
        const QString chosen = QFileDialog::getSaveFileName(section, Section::tr("Save the still"), path->text(),
                                                            Section::tr("Stills (%1)").arg(stillPatterns()));
        if (!chosen.isEmpty()) {
            path->setText(chosen);
            takePath();
        }
    });
    rows->labelled(Section::tr("File"), file, [=] {
        if (!path->hasFocus())
            path->setText(finals->path());
        path->setCursorPosition(static_cast<int>(path->text().size()));
    });

    const Rows::Reach<work::Output> output{[](const work::Work& w) { return std::vector{&w.output()}; },
                                           [](work::Work& w) { return std::vector{&w.output()}; }};
    Rows::Extra format;
    format.changed = [=] {
        // The file's ending follows what it shall be.
        const QFileInfo now(finals->path());
        finals->setPath(now.path() + "/" + now.completeBaseName() + files::exporterOf(desk.session->work().output().format).ending);
        path->setText(finals->path());
    };
    rows->property(output, "format", format);
    Rows::Extra width;
    width.id = "width";
    width.get = [=] { return std::optional<double>(finals->widthPx()); };
    width.usual = [=] { return std::optional<double>(desk.session->work().sheet().widthPx()); };
    width.set = [](work::Work& w, double v) {
        const int px = static_cast<int>(std::lround(v));
        w.output().widthPx = px == w.sheet().widthPx() ? 0 : px;
    };
    rows->property(output, "widthPx", width);
    auto* height = new QLabel;
    height->setObjectName("export.height");
    height->setProperty("soft", true);
    rows->labelled(Section::tr("That is"), height, [=] {
        const work::SheetSize& s = desk.session->work().sheet();
        height->setText(Section::tr("%1 x %2 px at %3 ppi")
                            .arg(finals->widthPx())
                            .arg(finals->heightPx())
                            .arg(s.ppi * finals->widthPx() / s.widthPx(), 0, 'g', 5));
    });
    rows->properties(output, {"name", "format", "widthPx"});
    Rows* stop =
        rows->group("stopRule", Section::tr("Stops"), [=] { return text(session::stopSentence(desk.session->work().output().stop)); });
    const Rows::Reach<render::StopRule> rule{[](const work::Work& w) { return std::vector{&w.output().stop}; },
                                             [](work::Work& w) { return std::vector{&w.output().stop}; }};
    for (const char* key : {"noise", "samples", "seconds"}) {
        Rows::Extra noUsual;
        noUsual.usual = [] { return std::optional<double>(); };
        stop->property(rule, key, noUsual);
    }

    auto* render = new QPushButton(Section::tr("Render the final"));
    render->setObjectName("export.render");
    render->setProperty("primary", true);
    render->setToolTip(Section::tr("Of the work as it is now; you can go on editing meanwhile"));
    QObject::connect(render, &QPushButton::clicked, section, [=] {
        if (path->isModified())
            takePath();
        finals->start();
        finals->setPath(path->text());
    });
    rows->wide(render);
    auto* mesh = new QPushButton(Section::tr("Meshes for 3D printing (STL)..."));
    mesh->setObjectName("export.mesh");
    QObject::connect(mesh, &QPushButton::clicked, section, [=] {
        const QString chosen = QFileDialog::getSaveFileName(section, Section::tr("Save the meshes"),
                                                            finals->suggestedPath().replace(".png", ".stl"), Section::tr("Meshes (*.stl)"));
        if (!chosen.isEmpty())
            finals->saveMesh(chosen);
    });
    rows->wide(mesh);
    auto* list = new FinalsList(finals);
    rows->wide(
        list, [=] { list->show(); }, [=] { return !finals->entries().empty() || !finals->keptInWork().empty(); });
    QObject::connect(finals, &FinalsDesk::changed, section, [=] {
        if (section->isOpen())
            rows->refresh();
    });
    return section;
}

}  // namespace app
