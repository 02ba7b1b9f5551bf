#include "app/ticket/sample_panel.h"

#include <QVBoxLayout>

#include "app/fields/panel.h"
#include "app/style.h"
#include "app/ticket/letter_sample.h"

namespace app {

namespace {

constexpr int kAcross = 4, kDown = 4;

}  // namespace

SamplePanel::SamplePanel(const QString& id, const QString& what, QWidget* parent) : QWidget(parent, Qt::Popup), m_list(new QListWidget)
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
}

void SamplePanel::take(QListWidgetItem* item)
{
    if (!isVisible())
        return;  // a click that also activates
    ++*m_opened;
    hide();
    Q_EMIT taken(m_list->row(item));
}

void SamplePanel::open(QWidget* beside, const std::vector<Entry>& entries)
{
    m_list->clear();
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
