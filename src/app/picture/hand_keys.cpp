// Keys in the picture.
#include "app/picture/hands.h"

#include <algorithm>

#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "session/edits.h"

namespace app {

using base::Vec2;
using base::Vec3;
using session::Target;

void Hands::nudge(Vec3 by)
{
    const auto items = movable(m_context.session->choice());
    if (items.empty()) {
        m_context.say(handText("Choose a piece first: Space chooses the next one"));
        return;
    }
    m_context.session->edit(handText("Nudge").toStdString(), "nudge", [&](work::Work& w) { w = session::nudged(w, items, by); });
}

void Hands::plumb(double by)
{
    const session::Choice choice = m_context.session->choice();
    m_context.session->edit(handText("Distance from the ground").toStdString(), "plumb", [&](work::Work& w) {
        for (const session::MoveDrag::Item& item : movable(choice)) {
            work::Piece& p = w.pieces.items.at(item.piece);
            if (!item.letter.empty()) {
                p.letters[item.letter].z += by;
                continue;
            }
            double middle = 0;
            if (shownWork())
                for (const work::PiecePlace& place : shownWork()->bodies.places)
                    if (place.id == item.piece)
                        middle = place.middle;
            p.placement = session::plumbed(p.placement, w.ground, session::plumbDistance(p.placement, w.ground, middle) + by, middle);
        }
    });
}

void Hands::turn(double degrees)
{
    const auto items = movable(m_context.session->choice());
    m_context.session->edit(handText("Turn").toStdString(), "turn", [&](work::Work& w) { w = session::turned(w, items, degrees); });
}

void Hands::nextPiece(int step)
{
    const work::Work& w = m_context.session->work();
    std::vector<std::string> open;
    for (const std::string& id : w.pieces.order)
        if (!w.pieces.items.at(id).locked && !w.pieces.items.at(id).hidden)
            open.push_back(id);
    if (open.empty())
        return;
    const auto& targets = m_context.session->choice().targets;
    const auto at = targets.empty() ? open.end() : std::find(open.begin(), open.end(), targets.back().piece);
    const auto count = static_cast<std::ptrdiff_t>(open.size());
    const std::ptrdiff_t next = at == open.end() ? (step > 0 ? 0 : count - 1) : (at - open.begin() + step + count) % count;
    session::Choice choice;
    choice.set({open[static_cast<std::size_t>(next)], {}});
    m_context.session->choose(choice);
}

void Hands::intoLetters(int step, bool add)
{
    session::Choice choice = m_context.session->choice();
    if (choice.empty()) {
        nextPiece(1);
        return;
    }
    const Target lead = choice.targets.back();
    const work::Piece& piece = m_context.session->work().pieces.items.at(lead.piece);
    const auto& letters = piece.letterIds();
    if (letters.empty())
        return;
    const auto count = static_cast<std::ptrdiff_t>(letters.size());
    std::ptrdiff_t at = std::find(letters.begin(), letters.end(), lead.letter) - letters.begin();
    if (lead.letter.empty() || at == count)
        at = step > 0 ? -1 : count;
    for (std::ptrdiff_t tries = 0; tries < count; ++tries) {
        at = (at + step + count) % count;
        const std::string text = session::letterText(piece, letters[static_cast<std::size_t>(at)]);
        if (text != " " && text != "\n")
            break;
    }
    const Target next{lead.piece, letters[static_cast<std::size_t>(at)]};
    if (add)
        choice.add(next);
    else
        choice.set(next);
    m_context.session->choose(choice);
}

void Hands::arrowKey(double right, double up, Qt::KeyboardModifiers modifiers)
{
    const bool shift = modifiers & Qt::ShiftModifier, control = modifiers & Qt::ControlModifier;
    if (control && shift) {
        changeView(handText("Slide the view").toStdString(), [&](const work::View& v) {
            if (!shownWork())
                return v;
            return session::slid(v, work::cameraOf(m_context.session->work(), shownWork()->bodies), {0.5, 0.5},
                                 {0.5 - right * 0.05, 0.5 + up * 0.05});
        });
    } else if (control) {
        changeView(handText("Walk round").toStdString(), [&](const work::View& v) { return session::walked(v, right * 5, up * 5); });
    } else {
        const double step = nudgeStep() * (shift ? 10 : 1);
        nudge({right * step, up * step, 0});
    }
}

void Hands::closer(double factor)
{
    changeView(handText("Closer").toStdString(), [&](const work::View& v) {
        return shownWork() ? session::closer(v, work::cameraOf(m_context.session->work(), shownWork()->bodies), {0.5, 0.5}, factor) : v;
    });
}

// From letters to their piece, from a piece to nothing.
void Hands::leave()
{
    if (m_view.callOff())
        return;
    session::Choice choice;
    const auto& targets = m_context.session->choice().targets;
    if (!targets.empty() && !targets.back().letter.empty())
        choice.set({targets.back().piece, {}});
    m_context.session->choose(choice);
}

bool Hands::key(QKeyEvent* event)
{
    const bool shift = event->modifiers() & Qt::ShiftModifier, control = event->modifiers() & Qt::ControlModifier;
    const double step = unitStep() * (shift && !control ? 10 : 1);
    if (m_pen && penKey(event->key()))
        return true;
    const auto arrow = [&](double right, double up) { arrowKey(right, up, event->modifiers()); };
    switch (event->key()) {
    case Qt::Key_Left:
        arrow(-1, 0);
        return true;
    case Qt::Key_Right:
        arrow(1, 0);
        return true;
    case Qt::Key_Up:
        arrow(0, 1);
        return true;
    case Qt::Key_Down:
        arrow(0, -1);
        return true;
    case Qt::Key_PageUp:
        control ? turn(shift ? 15 : 1) : plumb(step);
        return true;
    case Qt::Key_PageDown:
        control ? turn(shift ? -15 : -1) : plumb(-step);
        return true;
    case Qt::Key_Plus:
    case Qt::Key_Minus:
        closer(event->key() == Qt::Key_Plus ? 0.9 : 1 / 0.9);
        return true;
    case Qt::Key_Space:
        nextPiece(shift ? -1 : 1);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        intoLetters(1, shift);
        return true;
    case Qt::Key_Home:
        changeView(handText("Home").toStdString(),
                   [](const work::View& v) { return session::standardView(v, session::StandardView::Straight); });
        m_context.session->endMerge();
        return true;
    case Qt::Key_Backspace:
        if (viewIsFree() && !m_context.session->backToLastView())
            m_context.say(handText("There is no view before this one"));
        return true;
    case Qt::Key_Escape:
        leave();
        return true;
    case Qt::Key_Delete:
        if (takesDelete()) {
            removePointUnderPointer();
            return true;
        }
        if (m_context.session->choice().empty())
            return false;
        m_context.session->edit(handText("Delete").toStdString(),
                                [&](work::Work& w) { session::remove(w, m_context.session->choice().pieces()); });
        return true;
    default:
        return false;
    }
}

}  // namespace app
