#include "app/drawer/casting_table.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/style.h"
#include "session/choice.h"

namespace app {

namespace {

constexpr int kTableHeight = 236;  // as the sky charts

QString rowTitle(const work::Work& work, const std::string& row)
{
    return row.empty()              ? CastingTable::tr("All")
           : row == work::kGroundId ? CastingTable::tr("Wall and floor")
                                    : text(session::titleOf(work.pieces.items.at(row)));
}

}  // namespace

CastingTable::CastingTable(const Context& context, QWidget* parent) : QWidget(parent), m_context(context), m_table(new QTableWidget)
{
    setObjectName("drawer.casting");
    setAccessibleName(tr("Who casts on whom"));
    setAttribute(Qt::WA_StyledBackground);
    setProperty("slip", true);
    setFixedHeight(kTableHeight);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(3 * kGrid, 2 * kGrid, 3 * kGrid, 2 * kGrid);
    column->setSpacing(kGrid);
    auto* head = new QHBoxLayout;
    auto* about = new QLabel(tr("Who casts on whom: what light reaches, and what throws a shadow in it. Light that comes by way of other "
                                "things is not kept off."));
    about->setWordWrap(true);
    head->addWidget(about, 1);
    auto* close = new QToolButton;
    close->setObjectName("drawer.casting.close");
    close->setText(tr("Close"));
    close->setToolTip(tr("Puts the table away (Esc)"));
    connect(close, &QToolButton::clicked, this, &CastingTable::closeWanted);
    head->addWidget(close, 0, Qt::AlignTop);
    column->addLayout(head);
    m_table->setObjectName("drawer.casting.table");
    m_table->setAccessibleName(tr("Pieces and lights"));
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setAlternatingRowColors(true);
    m_table->verticalHeader()->setDefaultSectionSize(22);
    m_table->verticalHeader()->setSectionsClickable(false);
    m_table->horizontalHeader()->setSectionsClickable(false);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    column->addWidget(m_table, 1);
    connect(m_table, &QTableWidget::cellChanged, this, &CastingTable::ticked);
}

std::vector<CastingTable::Column> CastingTable::columns() const
{
    std::vector<Column> all{
        {Column::Of::Shadows, {}, tr("Throws\nshadows"), tr("In any light, on everything else; it shades itself all the same")},
        {Column::Of::Mirrors, {}, tr("Seen in\nmirrors"), tr("In everything else that mirrors, and its light on other things")}};
    for (const session::CastingSource& source : session::castingSources(m_context.session->work())) {
        const QString title = text(source.title);
        all.push_back({Column::Of::Lit, source.entry, tr("%1\nlights it").arg(title), tr("Light of %1 falls on it").arg(title)});
        all.push_back(
            {Column::Of::Shadow, source.entry, tr("%1\nshadow").arg(title), tr("It throws a shadow in the light of %1").arg(title)});
    }
    return all;
}

Qt::CheckState CastingTable::stateOf(const std::string& row, const Column& column, bool& can) const
{
    const work::Work& work = m_context.session->work();
    can = true;
    const auto tick = [](bool on) { return on ? Qt::Checked : Qt::Unchecked; };
    if (column.of == Column::Of::Lit || column.of == Column::Of::Shadow) {
        if (row.empty())
            return tick(session::allCast(work, column.casts(), column.entry));
        can = session::canCast(work, column.casts(), column.entry, row);
        return tick(session::casts(work, column.casts(), column.entry, row));
    }
    const auto own = column.of == Column::Of::Shadows ? &work::Piece::castsShadow : &work::Piece::mirrored;
    if (row == work::kGroundId) {
        can = false;
        return Qt::Checked;
    }
    if (!row.empty())
        return tick(work.pieces.items.at(row).*own);
    return tick(std::all_of(work.pieces.items.begin(), work.pieces.items.end(), [&](const auto& item) { return item.second.*own; }));
}

void CastingTable::set(work::Work& work, const std::string& row, const Column& column, bool on) const
{
    if (column.of == Column::Of::Lit || column.of == Column::Of::Shadow) {
        row.empty() ? session::setAllCast(work, column.casts(), column.entry, on)
                    : session::setCasts(work, column.casts(), column.entry, row, on);
        return;
    }
    const auto own = column.of == Column::Of::Shadows ? &work::Piece::castsShadow : &work::Piece::mirrored;
    for (auto& [id, piece] : work.pieces.items)
        if (row.empty() || row == id)
            piece.*own = on;
}

void CastingTable::ticked(int row, int column)
{
    const std::string id = m_rows[static_cast<std::size_t>(row)];
    const Column of = m_columns[static_cast<std::size_t>(column)];
    const bool on = m_table->item(row, column)->checkState() == Qt::Checked;
    if (!m_context.session->edit(tr("Who casts on whom").toStdString(), [&](work::Work& w) { set(w, id, of, on); }))
        fill();
}

void CastingTable::refresh()
{
    if (isVisible())
        fill();
}

void CastingTable::showEvent(QShowEvent*)
{
    fill();
}

void CastingTable::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closeWanted();
    else
        QWidget::keyPressEvent(event);
}

void CastingTable::fill()
{
    const work::Work& work = m_context.session->work();
    const QSignalBlocker quiet(m_table);
    std::vector<std::string> rows{""};
    rows.insert(rows.end(), work.pieces.order.begin(), work.pieces.order.end());
    rows.emplace_back(work::kGroundId);
    const auto all = columns();
    if (rows.size() != m_rows.size() || all.size() != m_columns.size()) {
        m_table->clear();
        m_table->setRowCount(static_cast<int>(rows.size()));
        m_table->setColumnCount(static_cast<int>(all.size()));
        for (int row = 0; row < m_table->rowCount(); ++row)
            for (int column = 0; column < m_table->columnCount(); ++column)
                m_table->setItem(row, column, new QTableWidgetItem);
        for (int column = 0; column < m_table->columnCount(); ++column)
            m_table->setHorizontalHeaderItem(column, new QTableWidgetItem);
        for (int row = 0; row < m_table->rowCount(); ++row)
            m_table->setVerticalHeaderItem(row, new QTableWidgetItem);
    }
    m_rows = std::move(rows);
    m_columns = all;
    for (int column = 0; column < m_table->columnCount(); ++column) {
        const Column& of = m_columns[static_cast<std::size_t>(column)];
        m_table->horizontalHeaderItem(column)->setText(of.title);
        m_table->horizontalHeaderItem(column)->setToolTip(of.what);
        for (int row = 0; row < m_table->rowCount(); ++row) {
            const std::string& id = m_rows[static_cast<std::size_t>(row)];
            const QString title = rowTitle(work, id);
            m_table->verticalHeaderItem(row)->setText(title);
            QTableWidgetItem* item = m_table->item(row, column);
            bool can = true;
            item->setCheckState(stateOf(id, of, can));
            item->setFlags(can ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable : Qt::ItemIsSelectable);
            item->setToolTip(title + ": " + of.what);
            item->setData(Qt::AccessibleTextRole, title + ": " + of.what);
        }
    }
}

}  // namespace app
