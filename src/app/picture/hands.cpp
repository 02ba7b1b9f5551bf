#include "app/picture/hands.h"

#include <QSettings>
#include <cmath>

#include "app/picture/marks.h"
#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "render/camera.h"
#include "session/groups.h"
#include "work/clashes.h"

namespace app {

using base::Vec2;
using base::Vec3;
using session::Target;

namespace {

constexpr double kClick = 4;           // px that still count as a click
constexpr double kSnap = 7;            // px within which things snap
constexpr double kWalkPerPixel = 0.3;  // degrees

}  // namespace

// --- what is there --------------------------------------------------------------------------------------------------------------

const session::ShownWork* Hands::shownWork() const
{
    return m_view.frame().shownWork.get();
}

QPointF Hands::seen(Vec3 point) const
{
    Vec2 uv{-10, -10};
    if (shownWork())
        render::project(shownWork()->camera, point, uv);
    return m_view.fromFrame(uv);
}

double Hands::reach() const
{
    return shownWork() ? kSnap / m_view.frameRect().width() * shownWork()->camera.frameWidth : 0;
}

double Hands::unitStep() const
{
    const session::LengthUnit unit = m_context.unit();
    return unit.unit == work::Unit::In ? unit.toPt(1.0 / 16) : unit.toPt(1);
}

double Hands::nudgeStep() const
{
    const double own = QSettings().value("nudgePt").toDouble();
    return own > 0 ? own : unitStep();
}

QString Hands::length(double pt) const
{
    const session::LengthUnit unit = m_context.unit();
    return QString::fromStdString(session::shownNumber(pt, session::Kind::Length, unit, 1) + " " +
                                  session::unitName(session::Kind::Length, unit));
}

std::optional<Target> Hands::targetAt(const QPointF& place, bool letter) const
{
    const auto line = m_view.lineAt(place);
    const auto id = m_view.idAt(place);
    if (!id && !line)
        return std::nullopt;
    const work::Address at = line ? work::Address{line->piece, line->letter, {}} : work::addressOf(shownWork()->work, *id);
    const auto& now = m_context.session->work().pieces.items;
    const auto piece = now.find(at.piece);
    if (piece == now.end() || piece->second.locked)
        return std::nullopt;
    return Target{at.piece, letter ? at.letter : std::string()};
}

std::vector<session::MoveDrag::Item> Hands::movable(const session::Choice& choice) const
{
    std::vector<session::MoveDrag::Item> items;
    for (const Target& t : choice.targets)
        if (!m_context.session->work().pieces.items.at(t.piece).locked)
            items.push_back({t.piece, t.letter});
    return items;
}

// --- the flow of a gesture ------------------------------------------------------------------------------------------------------

void Hands::begin(Drag drag, const QPointF& from, const QString& name)
{
    drag.from = from;
    drag.gesture.emplace(*m_context.session, name.toStdString());
    m_drag = std::move(drag);
}

void Hands::change(const std::function<void(work::Work&)>& change)
{
    m_drag->gesture->move(change);
}

void Hands::press(const QPointF& place, Qt::MouseButton button, Qt::KeyboardModifiers modifiers)
{
    m_pointer = place;
    if (m_drag || !shownWork())
        return;
    if (button == Qt::MiddleButton) {
        beginView(place, true);
        return;
    }
    if (button != Qt::LeftButton)
        return;
    if (m_pick) {
        if (const auto seenColour = m_view.colourAt(place)) {
            const auto take = std::move(m_pick);
            m_pick = nullptr;
            m_view.unsetCursor();
            take(picture::decodeSrgb(base::Rgb{seenColour->redF(), seenColour->greenF(), seenColour->blueF()}));
        }
        return;
    }
    if (m_choosingPart) {
        beginPart(place);
        return;
    }
    if (m_pen) {
        penPress(place, modifiers);
        return;
    }
    if (m_aim) {
        beginAim(place, modifiers);
        return;
    }
    const std::vector<Lug> all = lugs();
    const Lug* nearest = nullptr;
    for (const Lug& lug : all)
        if (distance(lug.at, place) < kTake && (!nearest || distance(lug.at, place) < distance(nearest->at, place)))
            nearest = &lug;
    if (nearest) {
        beginLug(*nearest, place);
        // A click that moves nothing is meant for what lies under the lug.
        if (m_drag && nearest->light.empty() && !nearest->line)
            m_drag->done = [this, done = std::move(m_drag->done)](bool moved, const QPointF& at, Qt::KeyboardModifiers held) {
                if (done)
                    done(moved, at, held);
                if (!moved)
                    click(at, held);
            };
        return;
    }
    if (!m_view.frameRect().contains(place)) {
        beginView(place, false);
        return;
    }
    if (isOnLine(place) && !targetAt(place, true))
        return;  // a double click puts a point there
    if (const auto target = targetAt(place, true))
        beginMove(place, *target, modifiers);
    else
        beginBand(place, modifiers);
}

void Hands::move(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    m_pointer = place;
    if (m_pen)
        penMove(place, modifiers);
    if (!m_drag)
        return;
    if (!m_drag->moved && distance(place, m_drag->from) < kClick)
        return;
    m_drag->moved = true;
    if (m_drag->gesture->isCalledOff()) {
        m_drag.reset();
        return;
    }
    if (m_drag->move)
        m_drag->move(place, modifiers);
}

void Hands::release(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    if (m_pen)
        m_pen->pulls = false;
    if (!m_drag)
        return;
    Drag drag = std::move(*m_drag);
    m_drag.reset();
    if (drag.done)
        drag.done(drag.moved, place, modifiers);
    drag.gesture->end();
}

bool Hands::callOff()
{
    const bool was = m_drag || m_pick || m_choosingPart || m_pen || m_aim;
    if (m_drag)
        m_drag->gesture->end(true);
    m_drag.reset();
    m_pick = nullptr;
    m_choosingPart = false;
    m_pen.reset();
    m_aim.reset();
    return was;
}

// --- view -----------------------------------------------------------------------------------------------------------------------

bool Hands::viewIsFree() const
{
    if (m_context.session->work().viewLocked)
        m_context.say(handText("The view is locked; unlock it in the View section"));
    return !m_context.session->work().viewLocked;
}

void Hands::beginView(const QPointF& from, bool slide)
{
    if (!viewIsFree())
        return;
    const render::Camera camera = shownWork()->camera;
    const work::View view = m_context.session->work().view();
    Drag drag;
    drag.move = [=, this](const QPointF& place, Qt::KeyboardModifiers) {
        const work::View changed =
            slide ? session::slid(view, camera, m_view.toFrame(from), m_view.toFrame(place))
                  : session::walked(view, (from.x() - place.x()) * kWalkPerPixel, (place.y() - from.y()) * kWalkPerPixel);
        change([&](work::Work& w) { w.view() = changed; });
    };
    if (!slide)
        drag.paint = [=, this](QPainter& painter) {
            const work::View& now = m_context.session->work().view();
            paintLabel(painter, m_pointer, handText("round %1°, over %2°").arg(now.walk, 0, 'f', 0).arg(now.rise, 0, 'f', 0));
        };
    begin(std::move(drag), from, slide ? handText("Slide the view") : handText("Walk round"));
}

void Hands::wheel(const QPointF& place, double notches)
{
    if (!shownWork() || notches == 0 || !viewIsFree())
        return;
    const work::View now = m_context.session->work().view();
    m_context.session->edit(handText("Closer").toStdString(), "closer", [&](work::Work& w) {
        w.view() = session::closer(now, work::cameraOf(m_context.session->work(), shownWork()->bodies), m_view.toFrame(place),
                                   std::pow(0.9, notches));
    });
}

void Hands::changeView(const std::string& name, const std::function<work::View(const work::View&)>& change)
{
    if (viewIsFree())
        m_context.session->edit(name, name, [&](work::Work& w) { w.view() = change(w.view()); });
}

// --- choosing and moving --------------------------------------------------------------------------------------------------------

void Hands::click(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    session::Choice choice = m_context.session->choice();
    const auto piece = targetAt(place, false), letter = targetAt(place, true);
    if (!piece) {
        m_context.session->choose({});
        return;
    }
    const bool inPiece =
        std::any_of(choice.targets.begin(), choice.targets.end(), [&](const Target& t) { return t.piece == piece->piece; });
    if (modifiers & Qt::ControlModifier) {
        goDeeper(place);
        return;
    }
    if (modifiers & Qt::ShiftModifier) {
        const bool letters = std::any_of(choice.targets.begin(), choice.targets.end(), [](const Target& t) { return !t.letter.empty(); });
        if (letters && inPiece)
            choice.toggle(*letter);
        else
            toggleWhole(choice, piece->piece);
    } else if (!inPiece) {
        choice = session::whole(m_context.session->work(), piece->piece);
    } else {
        // Of a group first the piece, then its letter.
        choice.set(session::isChosenAsGroup(m_context.session->work(), choice, piece->piece) ? *piece : *letter);
    }
    m_context.session->choose(choice);
}

// A piece with the others of its group: chosen, or no longer.
void Hands::toggleWhole(session::Choice& choice, const std::string& piece)
{
    const bool was = choice.has({piece, {}});
    for (const Target& t : session::whole(m_context.session->work(), piece).targets)
        was ? choice.remove(t) : choice.add(t);
}

// What lies behind what is chosen there, letters if a letter is chosen; behind the last one the front one again.
void Hands::goDeeper(const QPointF& place)
{
    session::Choice choice = m_context.session->choice();
    const bool letters = !choice.empty() && !choice.targets.back().letter.empty();
    std::vector<Target> ways;
    for (const Target& t : m_view.targetsUnder(place)) {
        const Target way = letters ? t : Target{t.piece, {}};
        if (std::find(ways.begin(), ways.end(), way) == ways.end())
            ways.push_back(way);
    }
    if (ways.empty())
        return;
    const auto at = std::find_if(ways.begin(), ways.end(), [&](const Target& t) { return choice.has(t); });
    choice.set(at == ways.end() || at + 1 == ways.end() ? ways.front() : *(at + 1));
    m_context.session->choose(choice);
}

void Hands::beginMove(const QPointF& from, const Target& target, Qt::KeyboardModifiers)
{
    auto moving = std::make_shared<std::optional<session::MoveDrag>>();
    auto lines = std::make_shared<std::vector<session::SnapLine>>();
    Drag drag;
    drag.move = [=, this](const QPointF& place, Qt::KeyboardModifiers modifiers) {
        if (!*moving) {
            // What is under the pointer moves; it is chosen first if it was not.
            session::Choice choice = m_context.session->choice();
            if (!choice.has(target) && !choice.has({target.piece, {}})) {
                choice = session::whole(m_context.session->work(), target.piece);
                m_context.session->choose(choice);
            }
            moving->emplace(m_drag->gesture->start(), shownWork()->bodies, shownWork()->camera, movable(choice), m_view.toFrame(from));
        }
        QPointF to = place;
        if (modifiers & Qt::ShiftModifier) {  // straight across or straight up
            if (std::abs(to.x() - from.x()) > std::abs(to.y() - from.y()))
                to.setY(from.y());
            else
                to.setX(from.x());
        }
        auto step = (*moving)->to(m_view.toFrame(to), modifiers & Qt::ControlModifier ? 0 : reach());
        *lines = std::move(step.lines);
        change([&](work::Work& w) { w = std::move(step.work); });
    };
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers modifiers) {
        if (!moved)
            click(place, modifiers);
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!m_drag->moved)
            return;
        for (const session::SnapLine& line : *lines)
            twoTone(painter, seen(line.from), seen(line.to), Qt::DashLine);
        const QPointF corner(m_pointer.x(), from.y());
        twoTone(painter, from, corner);
        twoTone(painter, corner, m_pointer, Qt::DashLine);
        const work::Placement& a = m_drag->gesture->start().pieces.items.at(target.piece).placement;
        const auto now = m_context.session->work().pieces.items.find(target.piece);
        if (now == m_context.session->work().pieces.items.end())
            return;
        const work::Placement& b = now->second.placement;
        QStringList parts;
        if (a.x != b.x)
            parts << handText("across %1").arg(length(b.x - a.x));
        if (a.y != b.y)
            parts << handText("up %1").arg(length(b.y - a.y));
        if (a.z != b.z)
            parts << handText("towards you %1").arg(length(b.z - a.z));
        if (!parts.isEmpty())
            paintLabel(painter, m_pointer, parts.join(", "));
    };
    begin(std::move(drag), from, handText("Move"));
}

void Hands::beginBand(const QPointF& from, Qt::KeyboardModifiers modifiers)
{
    Drag drag;
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers) {
        if (!moved) {
            click(place, modifiers);
            return;
        }
        const auto& frame = m_view.frame();
        const Vec2 a = m_view.toFrame(from), b = m_view.toFrame(place);
        const QRectF area =
            QRectF(QPointF(a.x * frame.widthPx, a.y * frame.heightPx), QPointF(b.x * frame.widthPx, b.y * frame.heightPx)).normalized();
        session::Choice choice = modifiers & (Qt::ShiftModifier | Qt::ControlModifier) ? m_context.session->choice() : session::Choice();
        std::map<std::string, std::vector<std::string>> found;
        for (const auto& [piece, letter] : lettersWithin(*frame.ids, area.toAlignedRect().translated(-frame.place.x0, -frame.place.y0))) {
            const work::Address at =
                work::addressOf(shownWork()->work, {static_cast<std::uint16_t>(piece), static_cast<std::uint16_t>(letter), 0});
            const auto now = m_context.session->work().pieces.items.find(at.piece);
            if (now != m_context.session->work().pieces.items.end() && !now->second.locked && !at.letter.empty())
                found[at.piece].push_back(at.letter);
        }
        for (const auto& [piece, letters] : found) {
            const work::Piece& p = m_context.session->work().pieces.items.at(piece);
            const auto visible =
                static_cast<std::size_t>(std::count_if(p.letterIds().begin(), p.letterIds().end(), [&](const std::string& l) {
                    const std::string text = session::letterText(p, l);
                    return text != " " && text != "\n";
                }));
            if (letters.size() >= visible)
                choice.add({piece, {}});
            else
                for (const std::string& letter : letters)
                    choice.add({piece, letter});
        }
        m_context.session->choose(choice);
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!m_drag->moved)
            return;
        twoToneFrame(painter, QRectF(from, m_pointer).normalized(), Qt::DashLine);
    };
    begin(std::move(drag), from, handText("Choose"));
}

void Hands::beginPart(const QPointF& from)
{
    Drag drag;
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers) {
        m_choosingPart = false;
        const Vec2 a = m_view.toFrame(from), b = m_view.toFrame(place);
        m_view.setPart(moved ? QRectF(QPointF(a.x, a.y), QPointF(b.x, b.y)).normalized() : QRectF());
    };
    drag.paint = [=, this](QPainter& painter) { twoToneFrame(painter, QRectF(from, m_pointer).normalized(), Qt::SolidLine); };
    begin(std::move(drag), from, handText("Part"));
}

// --- painting -----------------------------------------------------------------------------------------------------------------

// A sign where pieces cut into each other, but for what was meant so.
void Hands::paintClashes(QPainter& painter) const
{
    const work::Work& work = m_context.session->work();
    for (const work::Clash& clash : shownWork()->bodies.clashes) {
        if (!work.pieces.items.contains(clash.piece) || !work.pieces.items.contains(clash.other))
            continue;
        const base::Note note = work::clashNotes(work, {clash}).front();
        if (std::find(work.meantSo.begin(), work.meantSo.end(), work::noticeKey(note)) != work.meantSo.end())
            continue;
        const QPointF at = seen(clash.at);
        painter.setPen(QPen(kLightTone, 1.5));
        painter.setBrush(colours(Variant::Light).warning);
        painter.drawPolygon(QPolygonF{at + QPointF(0, -12), at + QPointF(12, 9), at + QPointF(-12, 9)});
        painter.drawLine(at + QPointF(0, -4), at + QPointF(0, 3));
        painter.drawPoint(at + QPointF(0, 6));
        if (distance(at, m_pointer) < kTake)
            paintLabel(painter, m_pointer, QString::fromStdString(note.message));
    }
}

void Hands::paint(QPainter& painter) const
{
    if (!shownWork())
        return;
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_pen) {
        paintPen(painter);
        return;
    }
    if (m_aim && m_aim->what == AimAt::Brush) {
        paintBrush(painter);
        return;
    }
    paintLine(painter);
    if (!m_drag)
        paintClashes(painter);
    if (m_lamps)
        paintLamps(painter);
    else if ((m_view.underMouse() || m_view.hasFocus()) && (!m_drag || m_drag->gesture->label() != handText("Move").toStdString()))
        paintLugs(painter);
    if (m_drag && m_drag->paint)
        m_drag->paint(painter);
}

}  // namespace app
