#include "app/window/start_page.h"

#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "app/ticket/sections.h"
#include "files/work_file.h"

namespace app {

namespace {

constexpr int kMostRecent = 6, kInRow = 3;
constexpr QSize kPicture{132, 96};  // px

}  // namespace

StartPage::StartPage(QWidget* parent) : QWidget(parent)
{
    setObjectName("start");
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    auto* column = new QVBoxLayout(this);
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
    m_word->setMinimumWidth(320);
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
    for (const SheetPreset& preset : sheetPresets())
        m_sheets->addItem(preset.name);
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
    button("start.demo", tr("The demo"), &StartPage::demoWanted);
    column->addLayout(row);
    m_recentBox = new QWidget;
    auto* recent = new QVBoxLayout(m_recentBox);
    recent->setContentsMargins(0, kGrid, 0, 0);
    auto* recentTitle = new QLabel(tr("Worked on last"));
    recentTitle->setProperty("title", true);
    recent->addWidget(recentTitle);
    m_recent = new QGridLayout;
    m_recent->setSpacing(2 * kGrid);
    recent->addLayout(m_recent);
    column->addWidget(m_recentBox);
    m_recentBox->hide();
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
        auto* b = new QToolButton;
        b->setObjectName(QString("start.recent%1").arg(i + 1));
        const QString path = there[i];
        b->setText(b->fontMetrics().elidedText(QFileInfo(path).completeBaseName(), Qt::ElideMiddle, kPicture.width()));
        b->setAccessibleName(tr("Open %1").arg(QFileInfo(path).completeBaseName()));
        b->setToolTip(path);
        b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        b->setIconSize(kPicture);
        connect(b, &QToolButton::clicked, this, [this, path] { Q_EMIT workWanted(path); });
        m_recent->addWidget(b, i / kInRow, i % kInRow);
        m_background.run(
            [file = path.toStdString()](const base::Progress&) {
                const auto bytes = files::previewBytes(file);
                return bytes ? QImage::fromData(bytes->data(), static_cast<int>(bytes->size())) : QImage();
            },
            [b = QPointer<QToolButton>(b)](const QImage& picture) {
                if (b && !picture.isNull())
                    b->setIcon(QPixmap::fromImage(picture.scaled(kPicture, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
            });
    }
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
