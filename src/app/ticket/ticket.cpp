#include "app/ticket/ticket.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/style.h"
#include "app/ticket/head.h"
#include "app/ticket/pieces_list.h"
#include "app/ticket/text_row.h"
#include "session/edits.h"
#include "session/groups.h"
#include "session/summary.h"
#include "work/bodies.h"
#include "work/clashes.h"
#include "work/fit.h"
#include "work/fonts.h"
#include "work/typeset.h"

namespace app {

namespace {

constexpr int kStripWidth = 68;               // of a folded ticket, px at the usual text size
constexpr int kLeast = 300, kMost = 560;      // of an open one
constexpr int kLayers = 4;                    // of layouts in each other
constexpr double kNotch = 6, kSlipRound = 6;  // px

QLabel* groupTitle(const QString& text, const char* name)
{
    auto* label = new QLabel(text);
    label->setObjectName(name);
    label->setProperty("title", true);
    label->setContentsMargins(3 * kGrid, kGrid, 2 * kGrid, kGrid);
    label->setMinimumWidth(1);
    label->setWordWrap(true);
    return label;
}

// Where the slip can be torn: a row of stitches, between two notches where it goes from edge to edge.
class Tear : public QWidget {
public:
    explicit Tear(bool notched) : m_notched(notched) { setFixedHeight(4 * kGrid); }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const double y = height() / 2.0;
        QPen stitches(colours().edge, 1.5);
        stitches.setDashPattern({2, 3});
        painter.setPen(stitches);
        painter.drawLine(QPointF(3 * kGrid, y), QPointF(width() - 3 * kGrid, y));
        if (!m_notched)
            return;
        painter.setPen(Qt::NoPen);
        painter.setBrush(colours().surround);
        painter.drawEllipse(QPointF(0, y), kNotch, kNotch);
        painter.drawEllipse(QPointF(width(), y), kNotch, kNotch);
    }

private:
    bool m_notched;
};

}  // namespace

Ticket::Ticket(const Context& context, Finals* finals, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("ticket");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, kGrid);
    column->setSpacing(0);
    m_piecesBox = makePieces();
    column->addWidget(m_piecesBox);
    column->addWidget(new Tear(true));
    m_scroll = new QScrollArea;
    m_scroll->setObjectName("ticket.scroll");
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    m_scroll->viewport()->setAutoFillBackground(false);
    auto* inside = new QWidget;
    inside->setObjectName("ticket.inside");
    inside->setAutoFillBackground(false);
    auto* box = new QVBoxLayout(inside);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    m_choiceTitle = groupTitle({}, "ticket.choice");
    m_wideOnly.push_back(m_choiceTitle);
    box->addWidget(m_choiceTitle);
    m_sections = {letteringSection(context), formSection(context),   materialSection(context),
                  sheetSection(context),     groundSection(context), viewSection(context),
                  lightSection(context),     finishSection(context), exportSection(context, finals)};
    for (std::size_t i = 0; i < m_sections.size(); ++i) {
        if (i == 3) {
            box->addWidget(new Tear(false));
            m_wideOnly.push_back(groupTitle(tr("Whole work"), "ticket.whole"));
            box->addWidget(m_wideOnly.back());
        }
        Section* s = m_sections[i];
        s->head()->setKeys(tr("Alt+%1").arg(i + 1));
        box->addWidget(s);
        connect(s, &Section::openChanged, this, [this, s](bool open) {
            if (!open)
                return;
            if (m_folded)
                setFolded(false);
            closeOthers(s, s->head()->byPointer());
            Q_EMIT sectionOpened(s->objectName().mid(8));
        });
        connect(s, &Section::noticeClicked, this, &Ticket::goTo);
        connect(s, &Section::noticeSilenced, this, [this](const QString& key) {
            m_context.session->edit(tr("Meant so").toStdString(), [&](work::Work& w) { w.meantSo.push_back(key.toStdString()); });
        });
    }
    box->addStretch(1);
    m_sections[0]->setRemedies([this](const base::Note& note) { return remediesOf(note); });
    m_scroll->setWidget(inside);
    column->addWidget(m_scroll, 1);
    setFolded(false);
}

// What lies over the opened one closes only as far as scrolling can hold the head in its place under the pointer, the rest when the
// pointer has left.
void Ticket::closeOthers(Section* opened, bool byPointer)
{
    m_toClose.clear();
    // Now, not when the window comes to it: what lies under the pointer must not be seen to jump.
    const auto layOut = [] {
        for (int i = 0; i < kLayers; ++i)
            QCoreApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
    };
    layOut();
    QScrollBar* bar = m_scroll->verticalScrollBar();
    const auto place = [&] { return opened->mapTo(m_scroll->widget(), QPoint(0, 0)).y(); };
    const int before = place();
    bool above = true;
    int room = bar->value();
    for (Section* other : m_sections) {
        if (other == opened) {
            above = false;
        } else if (other->isOpen() && !other->isPinned()) {
            const int rows = std::max(other->rows()->height(), other->rows()->sizeHint().height());
            if (!byPointer || !above || rows <= room) {
                other->setOpen(false);
                if (above)
                    room -= rows;
            } else {
                m_toClose.push_back(other);
            }
        }
    }
    layOut();
    if (byPointer)
        bar->setValue(bar->value() + place() - before);
    else
        QTimer::singleShot(0, opened, [this, opened] { m_scroll->ensureWidgetVisible(opened, 0, 0); });
}

// What can be done about a notice with one click.
// Faces that have what a letter's own one lacks: taken by all letters of the piece that lack it there.
std::vector<Section::Remedy> Ticket::facesFor(const work::Address& letter)
{
    constexpr std::size_t kMost = 2;
    std::vector<Section::Remedy> remedies;
    for (const outline::FoundFont& found : work::facesThatHave(m_context.session->work(), letter, kMost)) {
        const QString name = QString("%1 %2").arg(text(found.family), text(found.style)).trimmed();
        remedies.push_back({"face." + text(found.family), tr("Set in %1").arg(name), [=, this] {
                                const auto font = work::fontOnMachine(found.family, found.style);
                                if (!font)
                                    return m_context.say(text(base::oneLine(font.error())));
                                m_context.session->edit(tr("Set letters in %1").arg(name).toStdString(), [&](work::Work& w) {
                                    w.assets[font->choice.asset] = font->asset;
                                    for (const std::string& id : work::lettersLike(w, letter, m_fonts))
                                        w.pieces.items.at(letter.piece).letters[id].font = font->choice;
                                });
                            }});
    }
    return remedies;
}

std::vector<Section::Remedy> Ticket::remediesOf(const base::Note& note)
{
    const std::string piece = work::addressAt(note.place).piece;
    const auto& pieces = m_context.session->work().pieces.items;
    const auto found = pieces.find(piece);
    if (found == pieces.end())
        return {};
    if (note.kind == "clash")
        return {{"part", tr("Part them"), [=, this] {
                     const work::Work& now = m_context.session->work();
                     if (const auto bodies = work::makeBodies(now, work::toleranceFor(now.sheet(), now.sheet().widthPx()), m_fonts, {}))
                         m_context.session->edit(tr("Part pieces").toStdString(),
                                                 [&](work::Work& w) { w = work::parted(w, *bodies, piece); });
                 }}};
    if (!found->second.lettering())
        return {};
    if (note.kind == "lent-face")
        return facesFor(work::addressAt(note.place));
    if (note.kind != "off-sheet")
        return {};
    const auto remedy = [=, this](auto act, const QString& label) {
        return [=, this] {
            const auto done = std::make_shared<base::Result<void>>();
            m_context.session->edit(label.toStdString(), [&](work::Work& w) {
                *done = act(w, piece, m_fonts);
                if (*done)
                    w.pieces.items.at(piece).placement.x = w.pieces.items.at(piece).placement.y = 0;
            });
            if (!*done)
                m_context.say(text(base::oneLine(done->error())));
        };
    };
    std::vector<Section::Remedy> remedies{{"fit", tr("Fit to the sheet"), remedy(work::fitToSheet, tr("Fit to the sheet"))}};
    const std::string& words = found->second.lettering()->text;
    if (words.find(' ') != std::string::npos)
        remedies.push_back({"lines", tr("Break lines"), remedy(work::breakLines, tr("Break lines"))});
    return remedies;
}

void Ticket::leaveEvent(QEvent* event)
{
    QWidget::leaveEvent(event);
    if (QApplication::activePopupWidget())
        return;  // a list of the ticket's own
    for (Section* s : m_toClose)
        s->setOpen(false);
    m_toClose.clear();
}

void Ticket::changeEvent(QEvent* event)
{
    QWidget::changeEvent(event);
    if ((event->type() == QEvent::StyleChange || event->type() == QEvent::FontChange) && m_scroll)
        setFolded(m_folded);  // its widths go with the text's size
}

void Ticket::setFolded(bool folded)
{
    const bool changed = m_folded != folded;
    m_folded = folded;
    const int percent = currentLook().textPercent;
    setMinimumWidth((folded ? kStripWidth : kLeast) * percent / 100);
    setMaximumWidth((folded ? kStripWidth : kMost) * percent / 100);
    for (QWidget* w : m_wideOnly)
        w->setVisible(!folded);
    for (Section* s : m_sections)
        s->setNarrow(folded);
    m_fold->setText(folded ? QString::fromUtf8("\u203a") : QString::fromUtf8("\u2039"));
    m_fold->setAccessibleName(folded ? tr("Unfold the ticket") : tr("Fold the ticket"));
    m_fold->setToolTip(m_fold->accessibleName() + " (Ctrl+Shift+T)");
    m_scroll->setVerticalScrollBarPolicy(folded ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
    if (changed)
        Q_EMIT foldChanged(folded);
}

// A slip of paper.
void Ticket::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), colours().surround);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(0, 0, 0, 40));  // it lies a little above the ground
    painter.drawRoundedRect(QRectF(rect()).adjusted(0, 2, 0, 0), kSlipRound, kSlipRound);
    painter.setBrush(colours().paper);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0, 0, 0, -2), kSlipRound, kSlipRound);
}

QWidget* Ticket::makePieces()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(3 * kGrid, 2 * kGrid, 3 * kGrid, 2 * kGrid);
    column->setSpacing(kGrid);
    auto* titleRow = new QHBoxLayout;
    auto* title = groupTitle(tr("Pieces, front to back"), "pieces.title");
    title->setContentsMargins(0, 0, 0, 0);
    m_wideOnly.push_back(title);
    titleRow->addWidget(title, 1);
    m_fold = new QToolButton;
    m_fold->setObjectName("ticket.fold");
    m_fold->setProperty("mark", true);
    m_fold->setFixedSize(22, 22);
    connect(m_fold, &QToolButton::clicked, this, [this] { setFolded(!m_folded); });
    titleRow->addWidget(m_fold);
    column->addLayout(titleRow);
    m_pieces = new PiecesList(m_context);
    m_wideOnly.push_back(m_pieces);
    column->addWidget(m_pieces);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(kGrid);
    const auto button = [&](const char* id, const QString& label, const QString& tip, auto run) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, run);
        buttons->addWidget(b, 1);
        m_wideOnly.push_back(b);
        return b;
    };
    button("pieces.add", tr("Add lettering"), tr("In front of the others, like the one before it"), [this] { addLettering(); });
    m_forChosen.push_back(button("pieces.duplicate", tr("Duplicate"), tr("The chosen pieces (Ctrl+D)"), [this] { duplicateChosen(); }));
    auto* more = button("pieces.more", tr("More"), {}, [] {});
    auto* menu = new QMenu(more);
    menu->addAction(tr("To the &front"), this, [this] { moveChosen(-1); });
    menu->addAction(tr("To the &back"), this, [this] { moveChosen(1); });
    menu->addSeparator();
    menu->addAction(tr("&Group"), this, [this] { groupChosen(); });
    menu->addAction(tr("&Ungroup"), this, [this] { ungroupChosen(); });
    menu->addSeparator();
    menu->addAction(tr("&Hide or show"), this, [this] { toggleHidden(); });
    menu->addAction(tr("&Lock or unlock"), this, [this] { toggleLocked(); });
    menu->addSeparator();
    menu->addAction(tr("&Delete"), this, [this] { removeChosen(); });
    for (QAction* a : menu->actions())
        a->setObjectName("pieces.more." + QString(a->text()).remove('&').toLower().remove(' '));
    more->setMenu(menu);
    m_forChosen.push_back(more);
    column->addLayout(buttons);

    return box;
}

void Ticket::refresh()
{
    m_pieces->refresh();
    m_choiceTitle->setText(QString::fromStdString(session::choiceTitle(m_context.session->work(), m_context.session->choice())));
    const bool chosen = !m_context.session->choice().empty();
    for (QPushButton* b : m_forChosen)
        b->setEnabled(chosen);
    for (std::size_t i = 0; i < m_sections.size(); ++i) {
        if (i < 3)
            m_sections[i]->setUsable(chosen);
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
        (n.kind == "round-corners" || n.kind == "cut-through" || n.kind == "left-out" ? form : lettering).push_back(n);
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
    if (!s->head()->isEnabled()) {
        m_context.say(tr("Choose a piece first: click it in the picture or in the list"));
        return;
    }
    setFolded(false);
    s->setOpen(true);
    QWidget* field = s->firstField();
    (field ? field : s->head())->setFocus(Qt::ShortcutFocusReason);
    m_scroll->ensureWidgetVisible(s, 0, 0);
}

void Ticket::addLettering()
{
    addLettering(tr("Add lettering"), tr("Text"))->selectAll();
}

void Ticket::beginLettering(const QString& typed)
{
    addLettering(tr("Typing"), typed)->moveCursor(QTextCursor::End);
}

// Chosen, and ready to be typed on.
TextRow* Ticket::addLettering(const QString& label, const QString& words)
{
    std::string id;
    m_context.session->edit(label.toStdString(), [&](work::Work& w) { id = session::addLettering(w, words.toStdString()); });
    return focusText(id);
}

TextRow* Ticket::focusText(const std::string& piece)
{
    session::Choice choice;
    choice.set({piece, {}});
    m_context.session->choose(choice);
    m_sections[0]->setOpen(true);
    auto* text = findChild<TextRow*>();
    text->setFocus();
    return text;
}

void Ticket::typeOver(const std::string& lettering)
{
    focusText(lettering)->selectAll();
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

void Ticket::rename()
{
    m_pieces->setFocus(Qt::ShortcutFocusReason);
    m_pieces->rename();
}

void Ticket::fitChosen()
{
    m_context.session->edit(tr("Fit to the sheet").toStdString(), [&](work::Work& w) {
        for (const std::string& id : m_context.session->choice().pieces())
            (void)work::fitToSheet(w, id, m_fonts);
    });
}

void Ticket::breakChosen()
{
    m_context.session->edit(tr("Break lines").toStdString(), [&](work::Work& w) {
        for (const std::string& id : m_context.session->choice().pieces())
            (void)work::breakLines(w, id, m_fonts);
    });
}

void Ticket::useFontFile(const QString& path)
{
    if (auto* face = findChild<FontField*>())
        Q_EMIT face->fileChosen(path);
}

void Ticket::removeChosen()
{
    m_context.session->edit(tr("Delete").toStdString(), [&](work::Work& w) { session::remove(w, m_context.session->choice().pieces()); });
}

void Ticket::moveChosen(int way)
{
    m_context.session->edit(tr("Order").toStdString(),
                            [&](work::Work& w) { session::reorder(w, m_context.session->choice().pieces(), way); });
}

// All alike: what is partly so becomes so.
void Ticket::toggle(const QString& on, const QString& off, bool work::Piece::*what)
{
    const work::Work& w = m_context.session->work();
    const std::vector<std::string> pieces = m_context.session->choice().pieces();
    const bool all = std::all_of(pieces.begin(), pieces.end(), [&](const std::string& id) { return w.pieces.items.at(id).*what; });
    m_context.session->edit((all ? off : on).toStdString(), [&](work::Work& changed) {
        for (const std::string& id : pieces)
            changed.pieces.items.at(id).*what = !all;
    });
}

void Ticket::groupChosen()
{
    const std::vector<std::string> pieces = m_context.session->choice().pieces();
    if (pieces.size() < 2) {
        m_context.say(tr("Choose two or more pieces to group: Shift and click, in the picture or in the list"));
        return;
    }
    m_context.session->edit(tr("Group").toStdString(), [&](work::Work& w) { session::group(w, pieces); });
}

void Ticket::ungroupChosen()
{
    m_context.session->edit(tr("Ungroup").toStdString(), [&](work::Work& w) { session::ungroup(w, m_context.session->choice().pieces()); });
}

void Ticket::toggleHidden()
{
    toggle(tr("Hide"), tr("Show"), &work::Piece::hidden);
}

void Ticket::toggleLocked()
{
    toggle(tr("Lock"), tr("Unlock"), &work::Piece::locked);
}

}  // namespace app
