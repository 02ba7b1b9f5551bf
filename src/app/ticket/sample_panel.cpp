#include "app/ticket/sample_panel.h"

#include <QVBoxLayout>

#include "app/fields/panel.h"
#include "app/style.h"
#include "app/ticket/letter_sample.h"

namespace app {

namespace {

constexpr int kAcross = 4, kDown = 4;
constexpr int kRestMs = 250;  // until what the pointer is on is tried
constexpr const char* kTries = "samplePanel.tries";

// What samples are of, as it was.
void putBack(work::Work& w, const work::Work& before)
{
    w.pieces = before.pieces;
    w.lights = before.lights;
    w.surroundings = before.surroundings;
    w.emissive = before.emissive;
    w.finish = before.finish;
    w.nextId = before.nextId;
}

}  // namespace

QString listed(const QString& words)
{
    return words.split(' ', Qt::SkipEmptyParts).join(QStringLiteral(", "));
}

SamplePanel::SamplePanel(const Context& context, const QString& id, const QString& what, QWidget* parent)
    : QWidget(parent, Qt::Popup), m_context(context), m_list(new QListWidget)
{
    setObjectName(id + ".panel");
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    m_list->setObjectName(id + ".list");
    m_list->setAccessibleName(what);
    arrangeSamples(*m_list);
    m_list->setGridSize({kSampleSide + 20, kSampleSide + 2 * m_list->fontMetrics().lineSpacing() + 20});
    m_list->setTextElideMode(Qt::ElideNone);
    box->addWidget(m_list);
    connect(m_list, &QListWidget::itemClicked, this, &SamplePanel::take);
    connect(m_list, &QListWidget::itemActivated, this, &SamplePanel::take);
    m_list->setMouseTracking(true);
    connect(m_list, &QListWidget::itemEntered, this, [this](QListWidgetItem* item) { rest(m_list->row(item)); });
    connect(m_list, &QListWidget::currentRowChanged, this, &SamplePanel::rest);
    m_resting.setSingleShot(true);
    m_resting.setInterval(kRestMs);
    connect(&m_resting, &QTimer::timeout, this, [this] { tryRow(m_next); });
}

void SamplePanel::rest(int row)
{
    if (!isVisible())
        return;
    m_next = row;
    m_resting.start();
}

void SamplePanel::tryRow(int row)
{
    if (row < 0 || row >= static_cast<int>(m_entries.size()) || row == m_tried)
        return;
    if (!m_before) {
        m_context.session->endMerge();
        m_before = m_context.session->work();
    }
    m_tried = row;
    const Entry& entry = m_entries[static_cast<std::size_t>(row)];
    m_context.session->edit(entry.label.toStdString(), kTries, [&](work::Work& w) {
        putBack(w, *m_before);
        entry.take(w);
    });
}

void SamplePanel::backFromTries()
{
    m_resting.stop();
    if (!m_before)
        return;
    m_context.session->edit(m_entries[static_cast<std::size_t>(m_tried)].label.toStdString(), kTries,
                            [&](work::Work& w) { putBack(w, *m_before); });
    m_context.session->endMerge();
    m_before.reset();
    m_tried = -1;
}

void SamplePanel::hideEvent(QHideEvent* event)
{
    backFromTries();
    QWidget::hideEvent(event);
}

void SamplePanel::take(QListWidgetItem* item)
{
    if (!isVisible())
        return;  // a click that also activates
    ++*m_opened;
    const Entry entry = m_entries[static_cast<std::size_t>(m_list->row(item))];
    hide();
    m_context.session->edit(entry.label.toStdString(), entry.take);
}

void SamplePanel::open(QWidget* beside, const std::vector<Entry>& entries)
{
    m_list->clear();
    m_entries = entries;
    const int now = ++*m_opened;
    const QIcon blank = blankSample();
    for (std::size_t i = 0; i < entries.size(); ++i) {
        auto* item = new QListWidgetItem(blank, entries[i].name, m_list);
        item->setToolTip(entries[i].tip);
        m_background.run([shown = entries[i].shown, side = sampleSideOn(*this), opened = m_opened,
                          now](const base::Progress& progress) { return *opened == now ? keptSample(shown(), side, progress) : QImage(); },
                         [this, i, now](const QImage& picture) {
                             if (*m_opened == now && !picture.isNull())
                                 m_list->item(static_cast<int>(i))->setIcon(sampleIcon(picture));
                         });
    }
    const QRect room = roomFor(beside);
    m_list->setFixedSize(std::min(room.width() - 4 * kGrid, kAcross * m_list->gridSize().width() + 2 * kGrid + 16),
                         std::min(room.height() - 4 * kGrid, kDown * m_list->gridSize().height() + 2 * kGrid));
    adjustSize();
    openBeside(this, beside);
    m_list->setCurrentRow(0);
    m_list->setFocus();
}

}  // namespace app
