#include "app/window/start_page.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/sections.h"
#include "files/work_file.h"
#include "session/summary.h"
#include "work/starts.h"

namespace app {

namespace {

constexpr int kMostRecent = work::kStarts;
constexpr QSize kPicture{99, 72};  // px, at the usual size of text

// As large as what is in it, where there is room for that.
class Scrolled : public QScrollArea {
public:
    explicit Scrolled(QWidget* content)
    {
        setWidget(content);
        setWidgetResizable(true);
        content->setAutoFillBackground(false);
        viewport()->setAutoFillBackground(false);
    }
    QSize sizeHint() const override { return widget()->sizeHint(); }
    QSize minimumSizeHint() const override { return {160, 120}; }

protected:
    bool eventFilter(QObject* object, QEvent* event) override
    {
        if (object == widget() && event->type() == QEvent::LayoutRequest)
            updateGeometry();
        return QScrollArea::eventFilter(object, event);
    }
};

void titleOver(QBoxLayout* column, const QString& words)
{
    auto* title = new QLabel(words);
    title->setProperty("title", true);
    column->addWidget(title);
}

}  // namespace

StartPage::StartPage(QWidget* parent) : QWidget(parent)
{
    setObjectName("start");
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    auto* content = new QWidget;
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(new Scrolled(content));
    auto* column = new QVBoxLayout(content);
    column->setContentsMargins(6 * kGrid, 5 * kGrid, 6 * kGrid, 5 * kGrid);
    column->setSpacing(3 * kGrid);
    auto* title = new QLabel(tr("Type a word"));
    QFont large = title->font();
    large.setPixelSize(textPx() * 3 / 2);
    large.setWeight(QFont::DemiBold);
    title->setFont(large);
    column->addWidget(title);
    m_word = new QLineEdit;
    m_word->setObjectName("start.word");
    m_word->setAccessibleName(tr("Type a word"));
    m_word->setPlaceholderText(tr("It stands on the sheet at once"));
    large.setWeight(QFont::Normal);
    m_word->setFont(large);
    connect(m_word, &QLineEdit::textEdited, this, [this](const QString& text) {
        if (text.trimmed().isEmpty())
            return;
        m_word->clear();
        Q_EMIT typed(text);
    });
    column->addWidget(m_word);
    auto* row = new QHBoxLayout;
    row->setSpacing(kGrid);
    m_sheets = new OneOfField;
    m_sheets->setObjectName("start.sheet");
    m_sheets->setAccessibleName(tr("Sheet"));
    connect(m_sheets, &QComboBox::activated, this, [this](int index) {
        Q_EMIT sheetWanted(index);
        m_word->setFocus();
    });
    column->addWidget(m_sheets);
    const auto button = [&](const char* id, const QString& label, auto signal) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        connect(b, &QPushButton::clicked, this, signal);
        row->addWidget(b, 1);
    };
    button("start.open", tr("Open a work..."), &StartPage::openWanted);
    button("start.artwork", tr("Add artwork..."), &StartPage::artworkWanted);
    button("start.demo", tr("The demo"), &StartPage::demoWanted);
    column->addLayout(row);
    titleOver(column, tr("Or begin with"));
    auto* starts = new QHBoxLayout;
    starts->setSpacing(2 * kGrid);
    for (int i = 0; i < work::kStarts; ++i) {
        const work::Start& start = work::kStartList[i];
        const QString name = tr(start.title);
        QToolButton* b = pictureButton(QString("start.%1").arg(start.id), name, tr("Begin with \"%1\"").arg(name));
        b->setIcon(QPixmap(QString(":/starts/%1.png").arg(start.id)));
        connect(b, &QToolButton::clicked, this, [this, i] { Q_EMIT startWanted(i); });
        starts->addWidget(b);
    }
    column->addLayout(starts);
    m_recentBox = new QWidget;
    auto* recent = new QVBoxLayout(m_recentBox);
    recent->setContentsMargins(0, 0, 0, 0);
    recent->setSpacing(3 * kGrid);
    titleOver(recent, tr("Worked on last"));
    m_recent = new QHBoxLayout;
    m_recent->setSpacing(2 * kGrid);
    recent->addLayout(m_recent);
    column->addWidget(m_recentBox);
    m_recentBox->hide();
}

// A picture over its name.
QToolButton* StartPage::pictureButton(const QString& id, const QString& words, const QString& says)
{
    auto* b = new QToolButton;
    b->setObjectName(id);
    b->setText(b->fontMetrics().elidedText(words, Qt::ElideMiddle, kPicture.width() + 4));
    b->setAccessibleName(says);
    b->setToolTip(says);
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIconSize(kPicture);
    b->setProperty("picture", true);
    return b;
}

void StartPage::showSheet(const work::Work& work)
{
    m_sheets->setPlaceholderText(tr("As it is: %1").arg(text(session::sheetSummary(work))));
    fillWithSheets(m_sheets, work.sheet());
}

void StartPage::showRecent(const QStringList& paths)
{
    QStringList there;
    for (const QString& path : paths)
        if (QFileInfo::exists(path) && there.size() < kMostRecent)
            there << path;
    if (there == m_shown)
        return;
    m_shown = there;
    while (QLayoutItem* item = m_recent->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (int i = 0; i < there.size(); ++i) {
        const QString path = there[i], name = QFileInfo(path).completeBaseName();
        QToolButton* b = pictureButton(QString("start.recent%1").arg(i + 1), name, tr("Open %1").arg(name));
        b->setToolTip(path);
        connect(b, &QToolButton::clicked, this, [this, path] { Q_EMIT workWanted(path); });
        m_recent->addWidget(b);
        m_background.run(
            [file = path.toStdString()](const base::Progress&) {
                const auto bytes = files::previewBytes(file);
                return bytes ? QImage::fromData(bytes->data(), static_cast<int>(bytes->size())) : QImage();
            },
            [b = QPointer<QToolButton>(b)](const QImage& picture) {
                if (b && !picture.isNull())
                    b->setIcon(QPixmap::fromImage(picture.scaled(2 * kPicture, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
            });
    }
    if (there.size() < kMostRecent)
        m_recent->addStretch(1);
    m_recentBox->setVisible(!there.isEmpty());
}

void StartPage::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    m_word->setFocus();
}

// A slip of its own.
void StartPage::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(0, 0, 0, 40));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0, 2, 0, 0), 6, 6);
    painter.setBrush(colours().paper);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0, 0, 0, -2), 6, 6);
}

}  // namespace app
