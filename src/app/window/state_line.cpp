#include "app/window/state_line.h"
#include "app/fields/one_of_field.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QToolButton>

#include "app/icons.h"
#include "app/style.h"
#include "app/window/flow.h"
#include "session/summary.h"

namespace app {

namespace {

// Rules to choose from. A picture that does not come clean stops at many samples.
const render::StopRule kRules[] = {{4096, 0, 1.5}, {0, 10, 0}, {64, 0, 0}};

}  // namespace

StateLine::StateLine(QWidget* parent) : QWidget(parent)
{
    setObjectName("stateLine");
    setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(2 * kGrid, kGrid, 2 * kGrid, 2 * kGrid);
    column->setSpacing(kGrid);
    auto* texts = new QHBoxLayout;
    texts->setSpacing(4 * kGrid);
    m_sentence = new QLabel;
    m_sentence->setObjectName("state");
    m_sentence->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    texts->addWidget(m_sentence, 1);
    m_final = new QLabel;
    m_final->setObjectName("state.final");
    m_progress = new QProgressBar;
    m_progress->setObjectName("state.progress");
    m_progress->setAccessibleName(tr("Progress of the final render"));
    m_progress->setRange(0, 1000);
    m_progress->setTextVisible(false);
    m_progress->setFixedWidth(96);
    auto* stopFinal = new QToolButton;
    stopFinal->setObjectName("state.final.stop");
    stopFinal->setText(tr("Stop the final"));
    stopFinal->setProperty("mark", true);
    stopFinal->setToolTip(tr("Keeps what is there; it can go on later, also after a restart"));
    connect(stopFinal, &QToolButton::clicked, this, &StateLine::stopFinalWanted);
    m_finalBox = new QWidget;
    auto* finalRow = new QHBoxLayout(m_finalBox);
    finalRow->setContentsMargins(0, 0, 0, 0);
    finalRow->setSpacing(2 * kGrid);
    finalRow->addWidget(m_progress);
    finalRow->addWidget(m_final);
    finalRow->addWidget(stopFinal);
    m_finalBox->hide();
    texts->addWidget(m_finalBox);
    m_readout = new QLabel;
    m_readout->setObjectName("state.readout");
    m_readout->setProperty("soft", true);
    m_readout->setToolTip(tr("The colour under the pointer, as it was typed and as it is seen"));
    texts->addWidget(m_readout);
    column->addLayout(texts);

    auto* row = new QHBoxLayout;
    row->setSpacing(kGrid);
    auto* flow = new Flow(kGrid);
    m_stop = new OneOfField;
    m_stop->setObjectName("state.stop");
    m_stop->setAccessibleName(tr("When the picture stops sharpening"));
    m_stop->setToolTip(m_stop->accessibleName());
    m_stop->addItems({tr("Until clean"), tr("For 10 s"), tr("64 samples")});
    m_stop->setCurrentIndex(std::clamp(QSettings().value("liveStop", 0).toInt(), 0, 2));
    connect(m_stop, &QComboBox::activated, this, [this](int index) {
        QSettings().setValue("liveStop", index);
        Q_EMIT stopRuleChanged();
    });
    flow->addWidget(m_stop);
    const auto add = [&](const char* id, std::optional<Symbol> symbol, const QString& text, const QString& tip) {
        auto* button = new QToolButton;
        button->setObjectName(id);
        button->setText(text);
        button->setToolTip(tip);
        if (symbol) {
            button->setIcon(iconOf(*symbol));
            button->setIconSize(QSize(17, 14) * currentLook().textPercent / 100);
            button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
            button->setProperty("symbol", true);
        }
        flow->addWidget(button);
        return button;
    };
    const auto toggle = [&](const char* id, std::optional<Symbol> symbol, const QString& text, const QString& tip) {
        QToolButton* button = add(id, symbol, text, tip);
        button->setCheckable(true);
        return button;
    };
    hold = toggle("state.hold", Symbol::Pause, tr("Pause"),
                  tr("Pause: the picture sharpens no further; a change still shows its first picture"));
    hold->setAccessibleName(hold->text());
    hold->setToolButtonStyle(Qt::ToolButtonIconOnly);
    hold->setProperty("symbol", {});
    hold->setIconSize(QSize(14, 14) * currentLook().textPercent / 100);
    part = toggle("state.part", Symbol::Part, tr("Part only"),
                  tr("Drag a frame in the picture; only what is in it is rendered. Once more for all."));
    actualSize = toggle("state.actualSize", {}, tr("1:1"), tr("Each pixel of the still on one of the screen; once more to fit all in"));
    clipped = toggle("state.clipped", Symbol::TooBright, tr("Too bright"), tr("Marks what is brighter than white, where detail is lost"));
    gathered = add("state.gathered", Symbol::Grain, tr("As gathered"),
                   tr("While pressed, or while F4 is held: the picture without noise reduction"));
    drawer = toggle("state.drawer", Symbol::SideView, tr("Side view"), tr("The work from the side and from above; drag letters in depth"));
    desk = toggle("state.desk", Symbol::Desk, tr("Light desk"), tr("Brightness and colour of each light, changed without rendering"));
    proofs = toggle("state.proofs", {}, tr("Proofs"), tr("Versions that were kept, to compare and to go back to"));
    row->addLayout(flow, 1);
    final = new QPushButton(tr("Final..."));
    final->setObjectName("state.final.open");
    final->setToolTip(tr("Opens the Export section"));
    final->setProperty("primary", true);
    row->addWidget(final, 0, Qt::AlignBottom);
    column->addLayout(row);
}

render::StopRule StateLine::stopRule() const
{
    return kRules[std::clamp(m_stop->currentIndex(), 0, 2)];
}

QString StateLine::sentence(const session::LiveFrame& frame, bool current, bool held, bool part, const render::StopRule& stop)
{
    if (frame.error)
        return tr("The picture is the one before: %1").arg(QString::fromStdString(base::oneLine(*frame.error)));
    if (!frame.picture)
        return tr("The first picture is on its way");
    if (!current)
        return tr("Following the change; this is the picture before it");
    const QString part1 = part ? tr("Part only: ") : QString();
    if (frame.behind)
        return part1 + tr("new bodies are being made; these are the last ones");
    if (frame.draft && frame.status.samples == 0)
        return part1 + (held ? tr("held; shapes and colours are exact, the light is coarse")
                             : tr("shapes and colours are exact, the light is coarse and sharpens"));
    QString text = part1 + tr("%1 samples").arg(frame.status.samples, 0, 'f', 0);
    if (frame.status.noise >= 0)
        text += tr(", noise %1").arg(frame.status.noise, 0, 'f', 1);
    if (frame.finished)
        return text +
               (stop.noise > 0 && frame.status.noise >= 0 && frame.status.noise <= stop.noise ? tr(": clean") : tr(": stopped as asked"));
    if (frame.waits)
        return text + tr("; the final render has the machine");
    if (held)
        return text + tr(", held");
    if (frame.status.secondsLeft >= 0)
        text += tr(", about %1 to go").arg(QString::fromStdString(session::durationText(frame.status.secondsLeft)));
    return text;
}

void StateLine::show(const session::LiveFrame& frame, bool current, bool held, bool partOnly)
{
    m_text = sentence(frame, current, held, partOnly, stopRule());
    m_sentence->setStyleSheet(frame.error ? QString("color: %1").arg(colours().warning.name()) : QString());
    elide();
}

void StateLine::showReadout(const QString& readout)
{
    // The room stays when the pointer leaves, so that nothing beside it jumps.
    m_readout->setMinimumWidth(std::max(m_readout->minimumWidth(), m_readout->fontMetrics().horizontalAdvance(readout)));
    m_readout->setText(readout);
}

void StateLine::showFinal(const QString& text, double fraction)
{
    m_final->setText(text);
    m_progress->setValue(static_cast<int>(fraction * 1000));
    m_finalBox->setVisible(!text.isEmpty());
    elide();
}

void StateLine::elide()
{
    m_sentence->setText(m_sentence->fontMetrics().elidedText(m_text, Qt::ElideRight, std::max(80, m_sentence->width())));
    m_sentence->setToolTip(m_text);
    m_sentence->setAccessibleName(m_text);
}

void StateLine::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    elide();
}

}  // namespace app
