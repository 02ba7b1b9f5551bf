#include "app/ticket/ticket.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/style.h"
#include "app/ticket/text_row.h"
#include "session/edits.h"
#include "session/summary.h"
#include "work/bodies.h"

namespace app {

namespace {

QLabel* groupTitle(const QString& text, const char* name)
{
    auto* label = new QLabel(text);
    label->setObjectName(name);
    label->setContentsMargins(3 * kGrid, 2 * kGrid, 2 * kGrid, kGrid);
    QFont font = label->font();
    font.setWeight(QFont::DemiBold);
    label->setFont(font);
    label->setMinimumWidth(1);
    label->setWordWrap(true);
    return label;
}

}  // namespace

Ticket::Ticket(const Context& context, Finals* finals, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("ticket");
    setFixedWidth(340);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makePieces());
    auto* scroll = new QScrollArea;
    scroll->setObjectName("ticket.scroll");
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget;
    auto* box = new QVBoxLayout(inside);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    m_choiceTitle = groupTitle({}, "ticket.choice");
    box->addWidget(m_choiceTitle);
    m_sections = {letteringSection(context), formSection(context),   materialSection(context),
                  sheetSection(context),     groundSection(context), viewSection(context),
                  lightSection(context),     finishSection(context), exportSection(context, finals)};
    for (std::size_t i = 0; i < m_sections.size(); ++i) {
        if (i == 3)
            box->addWidget(groupTitle(tr("Whole work"), "ticket.whole"));
        Section* s = m_sections[i];
        s->head()->setToolTip(tr("Alt+%1").arg(i + 1));
        box->addWidget(s);
        connect(s, &Section::openChanged, this, [this, s, scroll](bool open) {
            if (!open)
                return;
            for (Section* other : m_sections)
                if (other != s && !other->isPinned())
                    other->setOpen(false);
            QTimer::singleShot(0, s, [=] { scroll->ensureWidgetVisible(s, 0, 0); });
            Q_EMIT sectionOpened(s->objectName().mid(8));
        });
        connect(s, &Section::noticeClicked, this, &Ticket::goTo);
        connect(s, &Section::noticeSilenced, this, [this](const QString& key) {
            m_context.session->edit(tr("Meant so").toStdString(), [&](work::Work& w) { w.meantSo.push_back(key.toStdString()); });
        });
    }
    box->addStretch(1);
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
}

QWidget* Ticket::makePieces()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(3 * kGrid, 2 * kGrid, 3 * kGrid, 2 * kGrid);
    column->setSpacing(kGrid);
    auto* title = new QLabel(tr("Pieces, front to back"));
    QFont font = title->font();
    font.setWeight(QFont::DemiBold);
    title->setFont(font);
    column->addWidget(title);
    m_pieces = new QListWidget;
    m_pieces->setObjectName("pieces");
    m_pieces->setAccessibleName(tr("Pieces, front to back"));
    m_pieces->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_pieces->setDragDropMode(QAbstractItemView::InternalMove);
    m_pieces->setFixedHeight(92);
    m_pieces->setToolTip(tr("Drag to change the order; double-click renames"));
    column->addWidget(m_pieces);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(kGrid);
    const auto button = [&](const char* id, const QString& label, const QString& tip, auto run) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, run);
        buttons->addWidget(b, 1);
        return b;
    };
    button("pieces.add", tr("Add lettering"), tr("In front of the others, like the one before it"), [this] { addLettering(); });
    m_forChosen.push_back(button("pieces.duplicate", tr("Duplicate"), tr("The chosen pieces (Ctrl+D)"), [this] { duplicateChosen(); }));
    auto* more = button("pieces.more", tr("More"), {}, [] {});
    auto* menu = new QMenu(more);
    menu->addAction(tr("To the &front"), this, [this] { moveChosen(-1); });
    menu->addAction(tr("To the &back"), this, [this] { moveChosen(1); });
    menu->addSeparator();
    menu->addAction(tr("&Hide"), this, [this] { setHidden(true); });
    menu->addAction(tr("&Show"), this, [this] { setHidden(false); });
    menu->addAction(tr("&Lock"), this, [this] { setLocked(true); });
    menu->addAction(tr("&Unlock"), this, [this] { setLocked(false); });
    menu->addSeparator();
    menu->addAction(tr("&Delete"), this, [this] { removeChosen(); });
    for (QAction* a : menu->actions())
        a->setObjectName("pieces.more." + QString(a->text()).remove('&').toLower().remove(' '));
    more->setMenu(menu);
    m_forChosen.push_back(more);
    column->addLayout(buttons);

    connect(m_pieces, &QListWidget::itemSelectionChanged, this, &Ticket::chooseFromList);
    connect(m_pieces, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (m_refreshing)
            return;
        const std::string id = item->data(Qt::UserRole).toString().toStdString(), name = item->data(Qt::EditRole).toString().toStdString();
        m_context.session->edit(tr("Name").toStdString(), [&](work::Work& w) { w.pieces.items.at(id).name = name; });
        refreshPieces();
    });
    connect(m_pieces->model(), &QAbstractItemModel::rowsMoved, this, [this] {
        std::vector<std::string> order;
        for (int i = 0; i < m_pieces->count(); ++i)
            order.push_back(m_pieces->item(i)->data(Qt::UserRole).toString().toStdString());
        m_context.session->edit(tr("Order").toStdString(), [&](work::Work& w) { w.pieces.order = order; });
    });
    return box;
}

void Ticket::refreshPieces()
{
    m_refreshing = true;
    const work::Work& w = m_context.session->work();
    QList<QVariant> ids;
    for (const std::string& id : w.pieces.order)
        ids << QString::fromStdString(id);
    // Items stay where the pieces are the same, so that a drag or an edit in the list is not cut off.
    bool same = m_pieces->count() == ids.size();
    for (int i = 0; same && i < ids.size(); ++i)
        same = m_pieces->item(i)->data(Qt::UserRole) == ids[i];
    if (!same) {
        m_pieces->clear();
        for (const QVariant& id : ids) {
            auto* item = new QListWidgetItem(m_pieces);
            item->setData(Qt::UserRole, id);
            item->setFlags((item->flags() | Qt::ItemIsEditable) & ~Qt::ItemIsDropEnabled);
        }
    }
    for (int i = 0; i < m_pieces->count(); ++i) {
        const std::string& id = w.pieces.order[static_cast<std::size_t>(i)];
        const work::Piece& piece = w.pieces.items.at(id);
        QString line =
            QString::fromStdString(session::titleOf(piece)) + (piece.lettering() ? tr(", lettering") : tr(", made by a newer version"));
        if (piece.copies.count > 0)
            line += tr(", %n linked", nullptr, piece.copies.count);
        if (piece.hidden)
            line += tr(", hidden");
        if (piece.locked)
            line += tr(", locked");
        m_pieces->item(i)->setText(line);
        const auto& targets = m_context.session->choice().targets;
        m_pieces->item(i)->setSelected(std::any_of(targets.begin(), targets.end(), [&](const auto& t) { return t.piece == id; }));
    }
    m_refreshing = false;
}

void Ticket::chooseFromList()
{
    if (m_refreshing)
        return;
    session::Choice choice;
    for (int i = 0; i < m_pieces->count(); ++i)
        if (m_pieces->item(i)->isSelected())
            choice.add({m_pieces->item(i)->data(Qt::UserRole).toString().toStdString(), {}});
    m_context.session->choose(choice);
}

void Ticket::refresh()
{
    refreshPieces();
    m_choiceTitle->setText(QString::fromStdString(session::choiceTitle(m_context.session->work(), m_context.session->choice())));
    const bool chosen = !m_context.session->choice().empty();
    for (QPushButton* b : m_forChosen)
        b->setEnabled(chosen);
    for (std::size_t i = 0; i < m_sections.size(); ++i) {
        if (i < 3)
            m_sections[i]->setEnabled(chosen);
        m_sections[i]->refresh();
    }
    showNotices(m_notes);
}

void Ticket::showNotices(const base::Notes& notes)
{
    m_notes = notes;
    const auto& silenced = m_context.session->work().meantSo;
    base::Notes lettering, form;
    for (const base::Note& n : notes) {
        if (std::find(silenced.begin(), silenced.end(), work::noticeKey(n)) != silenced.end())
            continue;
        (n.kind == "round-corners" || n.kind == "left-out" ? form : lettering).push_back(n);
    }
    m_sections[0]->showNotices(lettering);
    m_sections[1]->showNotices(form);
}

// The place of a notice: chooses that.
void Ticket::goTo(const QString& place)
{
    session::Choice choice;
    choice.set(work::addressAt(place.toStdString()));
    if (session::valid(m_context.session->work(), choice).empty())
        return;
    m_context.session->choose(choice);
    m_sections[0]->setOpen(true);
}

Section* Ticket::section(const QString& id) const
{
    for (Section* s : m_sections)
        if (s->objectName() == "section." + id)
            return s;
    return nullptr;
}

void Ticket::openSection(int number)
{
    if (number < 1 || number > static_cast<int>(m_sections.size()))
        return;
    Section* s = m_sections[static_cast<std::size_t>(number - 1)];
    if (!s->isEnabled())
        return;
    s->setOpen(!s->isOpen());
    s->head()->setFocus(Qt::ShortcutFocusReason);
}

void Ticket::addLettering()
{
    std::string id;
    m_context.session->edit(tr("Add lettering").toStdString(),
                            [&](work::Work& w) { id = session::addLettering(w, tr("Text").toStdString()); });
    session::Choice choice;
    choice.set({id, {}});
    m_context.session->choose(choice);
    m_sections[0]->setOpen(true);
    auto* text = findChild<TextRow*>();
    text->setFocus();
    text->selectAll();
}

void Ticket::duplicateChosen()
{
    std::vector<std::string> ids;
    m_context.session->edit(tr("Duplicate").toStdString(),
                            [&](work::Work& w) { ids = session::duplicate(w, m_context.session->choice().pieces()); });
    session::Choice choice;
    for (const std::string& id : ids)
        choice.add({id, {}});
    m_context.session->choose(choice);
}

void Ticket::removeChosen()
{
    m_context.session->edit(tr("Delete").toStdString(), [&](work::Work& w) { session::remove(w, m_context.session->choice().pieces()); });
}

void Ticket::moveChosen(int by)
{
    m_context.session->edit(tr("Order").toStdString(), [&](work::Work& w) {
        auto pieces = m_context.session->choice().pieces();
        if (by > 0)
            std::reverse(pieces.begin(), pieces.end());
        for (const std::string& id : pieces)
            session::reorder(w, id, by);
    });
}

void Ticket::setHidden(bool hidden)
{
    m_context.session->edit((hidden ? tr("Hide") : tr("Show")).toStdString(), [&](work::Work& w) {
        for (const std::string& id : m_context.session->choice().pieces())
            w.pieces.items.at(id).hidden = hidden;
    });
}

void Ticket::setLocked(bool locked)
{
    m_context.session->edit((locked ? tr("Lock") : tr("Unlock")).toStdString(), [&](work::Work& w) {
        for (const std::string& id : m_context.session->choice().pieces())
            w.pieces.items.at(id).locked = locked;
    });
}

}  // namespace app
