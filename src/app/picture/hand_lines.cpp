// Lines in the picture: their points and handles, and the pen that draws them.
#include <QPainterPath>
#include <cmath>

#include "app/picture/hands.h"
#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "render/camera.h"
#include "work/piece_outlines.h"
#include "work/scene.h"

namespace app {

using base::Vec2;
using base::Vec3;
using session::LineHandle;
using Kind = LineHandle::Kind;

namespace {

constexpr double kPull = 3;     // px a point is dragged before it gets handles
constexpr double kSmall = 30;   // px from its middle to its side: a shape that has no room for all handles
constexpr double kOnLine = 6;   // px from a line that are on it
constexpr double kEighth = 45;  // degrees that Shift holds to

bool isPoint(const Lug& lug)
{
    return lug.line && lug.line->kind == Kind::Point;
}

// A direction at the nearest eighth of a turn, as long as it was.
Vec2 atEighth(Vec2 v)
{
    const double step = base::kPi * kEighth / 180, angle = std::round(std::atan2(v.y, v.x) / step) * step;
    return Vec2{std::cos(angle), std::sin(angle)} * length(v);
}

void twoTonePath(QPainter& painter, const QPainterPath& path, Qt::PenStyle style = Qt::SolidLine)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(kDarkTone, 3));
    painter.drawPath(path);
    painter.setPen(QPen(kLightTone, 1.4, style));
    painter.drawPath(path);
}

// A point of a line, in the painter's pen and brush.
void paintPoint(QPainter& painter, QPointF at)
{
    constexpr double kHalf = 5.5;  // px
    painter.drawPolygon(QPolygonF{at + QPointF(-kHalf, 0), at + QPointF(0, -kHalf), at + QPointF(kHalf, 0), at + QPointF(0, kHalf)});
}

}  // namespace

std::optional<Hands::LinePlane> Hands::linePlane() const
{
    const session::ShownWork* s = shownWork();
    const session::Choice& choice = m_context.session->choice();
    const auto pieces = choice.pieces();
    if (!s || pieces.size() != 1)
        return std::nullopt;
    const auto& all = m_context.session->work().pieces.items;
    const auto piece = all.find(pieces.front());
    if (piece == all.end() || piece->second.locked || piece->second.hidden ||
        (piece->second.artwork() && !piece->second.steps.items.contains(*m_context.step)))
        return std::nullopt;
    const auto place =
        std::find_if(s->bodies.places.begin(), s->bodies.places.end(), [&](const auto& p) { return p.id == pieces.front(); });
    if (place == s->bodies.places.end())
        return std::nullopt;
    LinePlane plane{pieces.front(), *place, place->pose};
    plane.pose.origin = plane.pose.origin + plane.pose.out * work::depthOf(piece->second.form);
    return plane;
}

std::optional<Vec2> Hands::onPose(const base::Pose& pose, const QPointF& place) const
{
    const auto at = session::onPlane(shownWork()->camera, m_view.toFrame(place), pose.origin, pose.out);
    if (!at)
        return std::nullopt;
    const Vec3 d = *at - pose.origin;
    return Vec2{dot(d, pose.right), dot(d, pose.up)};
}

QPointF Hands::seenOn(const base::Pose& pose, Vec2 at) const
{
    return seen(pose.apply({at.x, at.y, 0}));
}

void Hands::addLineLugs(std::vector<Lug>& lugs) const
{
    const auto plane = linePlane();
    if (!plane)
        return;
    const work::Piece& piece = m_context.session->work().pieces.items.at(plane->piece);
    for (const LineHandle& handle : session::lineHandles(piece, plane->place, *m_context.step)) {
        const QPointF at = seenOn(plane->pose, handle.at);
        // Of a small shape its corner is enough.
        const bool isSide = piece.shape() && (handle.kind == Kind::Width || handle.kind == Kind::Height);
        if (!isSide || distance(at, seenOn(plane->pose, {})) > kSmall)
            lugs.push_back({Lug::Kind::Line, at, {}, handle});
    }
}

bool Hands::isOnLine(const QPointF& place) const
{
    const auto plane = linePlane();
    if (!plane)
        return false;
    const work::Piece& piece = m_context.session->work().pieces.items.at(plane->piece);
    if (!session::drawnLineOf(const_cast<work::Piece&>(piece), *m_context.step) &&
        !(piece.lettering() && piece.lettering()->run.isBetween()))
        return false;
    for (const auto& row : session::linesSeen(piece, plane->place, *m_context.step))
        for (std::size_t i = 0; i + 1 < row.size(); ++i) {
            const QPointF a = seenOn(plane->pose, row[i]), b = seenOn(plane->pose, row[i + 1]), d = b - a;
            const double size = QPointF::dotProduct(d, d);
            const double t = size > 0 ? std::clamp(QPointF::dotProduct(place - a, d) / size, 0.0, 1.0) : 0;
            if (distance(place, a + d * t) < kOnLine)
                return true;
        }
    return false;
}

std::optional<Lug> Hands::pointAt(const QPointF& place) const
{
    for (const Lug& lug : lugs())
        if (isPoint(lug) && distance(lug.at, place) < kTake)
            return lug;
    return std::nullopt;
}

bool Hands::takesDelete() const
{
    return !m_drag && !m_pen && pointAt(m_pointer).has_value();
}

void Hands::removePointUnderPointer()
{
    const auto lug = pointAt(m_pointer);
    const auto plane = linePlane();
    if (!lug || !plane)
        return;
    bool removed = false;
    m_context.session->edit(handText("Remove a point").toStdString(), [&](work::Work& w) {
        removed = session::removePoint(w.pieces.items.at(plane->piece), plane->place, *lug->line);
    });
    if (!removed)
        m_context.say(handText("The line needs the points it has"));
}

void Hands::doubleClick(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    if (m_pen) {
        endPen();
        return;
    }
    const auto plane = linePlane();
    const auto at = plane ? onPose(plane->pose, place) : std::nullopt;
    if (at) {
        if (const auto lug = pointAt(place)) {
            m_context.session->edit(handText("Corner or curve").toStdString(), [&](work::Work& w) {
                session::toggleCorner(w.pieces.items.at(plane->piece), plane->place, *lug->line);
            });
            return;
        }
        bool added = false;
        if (isOnLine(place))
            m_context.session->edit(handText("Add a point").toStdString(), [&](work::Work& w) {
                added = session::addPoint(w.pieces.items.at(plane->piece), plane->place, *at, 2 * reach(), *m_context.step);
            });
        if (added)
            return;
    }
    press(place, Qt::LeftButton, modifiers);
}

QString Hands::lineHint(const Lug& lug) const
{
    const auto plane = linePlane();
    if (!plane)
        return {};
    const work::Piece& piece = m_context.session->work().pieces.items.at(plane->piece);
    switch (lug.line->kind) {
    case Kind::Bend:
        return handText("bend %1°").arg(piece.lettering()->run.bend, 0, 'f', 0);
    case Kind::Width:
        return handText("%1 across").arg(length(piece.shape() ? piece.shape()->width : piece.lettering()->run.width));
    case Kind::Height:
        return handText("%1 high").arg(length(piece.shape() ? piece.shape()->height : piece.lettering()->run.height));
    case Kind::Size:
        return handText("%1 by %2").arg(length(piece.shape()->width), length(piece.shape()->height));
    case Kind::Start:
        return handText("start %1 %").arg(piece.lettering()->run.start * 100, 0, 'f', 1);
    case Kind::Point:
        return handText("Drag; double click: corner or curve; Delete takes it away");
    case Kind::In:
    case Kind::Out:
        return handText("Drag; with Ctrl without the other side");
    case Kind::PushFrom:
        return handText("pushed from here");
    case Kind::PushTo:
        return handText("pushed to here");
    case Kind::PushRadius:
        return handText("how far round it goes along");
    }
    return {};
}

void Hands::beginLine(const Lug& lug, const QPointF& from)
{
    const auto plane = linePlane();
    const auto grabbed = plane ? onPose(plane->pose, from) : std::nullopt;
    if (!grabbed)
        return;
    const Vec2 offset = lug.line->at - *grabbed;
    Drag drag;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
        const auto at = onPose(plane->pose, to);
        if (!at)
            return;
        const bool control = modifiers & Qt::ControlModifier;
        Vec2 place = *at + offset;
        const bool arm = lug.line->kind == Kind::In || lug.line->kind == Kind::Out;
        if (modifiers & Qt::ShiftModifier)
            place = arm ? lug.line->from + atEighth(place - lug.line->from) : lug.line->at + atEighth(place - lug.line->at);
        change([&](work::Work& w) {
            work::Piece& piece = w.pieces.items.at(plane->piece);
            session::moveHandle(piece, plane->place, *lug.line, place, control);
            // Whole degrees and hundredths, but for hands that want it exact.
            if (work::Lettering* lettering = piece.lettering(); lettering && !control) {
                if (lug.line->kind == Kind::Bend)
                    lettering->run.bend = std::round(lettering->run.bend);
                else if (lug.line->kind == Kind::Start)
                    lettering->run.start = std::round(lettering->run.start * 400) / 400;
            }
        });
    };
    drag.paint = [=, this](QPainter& painter) {
        if (m_drag->moved && !isPoint(lug) && lug.line->kind != Kind::In && lug.line->kind != Kind::Out)
            paintLabel(painter, m_pointer, lineHint(lug));
    };
    const auto name = [&] {
        switch (lug.line->kind) {
        case Kind::Bend:
            return handText("Bend");
        case Kind::Width:
        case Kind::Height:
        case Kind::Size:
            return handText("Size");
        case Kind::Start:
            return handText("Start");
        case Kind::PushFrom:
        case Kind::PushTo:
        case Kind::PushRadius:
            return handText("Push");
        default:
            return handText("Move a point");
        }
    };
    begin(std::move(drag), from, name());
}

void Hands::paintLine(QPainter& painter) const
{
    const auto plane = linePlane();
    if (!plane || m_lamps)
        return;
    const work::Piece& piece = m_context.session->work().pieces.items.at(plane->piece);
    for (const auto& row : session::linesSeen(piece, plane->place, *m_context.step)) {
        QPainterPath path;
        for (std::size_t i = 0; i < row.size(); ++i)
            i == 0 ? path.moveTo(seenOn(plane->pose, row[i])) : path.lineTo(seenOn(plane->pose, row[i]));
        twoTonePath(painter, path, Qt::DashLine);
    }
    if (!(m_view.underMouse() || m_view.hasFocus()))
        return;
    std::vector<Lug> all;
    addLineLugs(all);
    for (const Lug& lug : all)
        if (lug.line->kind == Kind::In || lug.line->kind == Kind::Out)
            twoTone(painter, seenOn(plane->pose, lug.line->from), lug.at);
    for (const Lug& lug : all) {
        const bool near = distance(lug.at, m_pointer) < kTake;
        painter.setPen(QPen(kDarkTone, 1.4));
        painter.setBrush(near ? colours(Variant::Light).accent : kLightTone);
        switch (lug.line->kind) {
        case Kind::Point:
            paintPoint(painter, lug.at);
            break;
        case Kind::In:
        case Kind::Out:
            painter.drawEllipse(lug.at, 3.5, 3.5);
            break;
        case Kind::Start:
            // A flag on the line.
            painter.drawPolygon(QPolygonF{lug.at, lug.at + QPointF(0, -16), lug.at + QPointF(11, -11.5), lug.at + QPointF(0, -7)});
            break;
        default:
            painter.drawEllipse(lug.at, 6, 6);
            painter.drawEllipse(lug.at, 2, 2);
            break;
        }
    }
}

// --- the pen --------------------------------------------------------------------------------------------------------------------

void Hands::drawWithPen(PenFor use, const std::string& piece)
{
    callOff();
    if (!shownWork()) {
        m_context.say(handText("The pen draws in the picture; wait until it is there"));
        return;
    }
    Pen pen{use, piece, {}, {}, false};
    const work::Work& w = m_context.session->work();
    if (use != PenFor::Shape) {
        pen.plane = work::poseOf(w.placementOf(piece), w.ground);
        if (use == PenFor::Cut)
            pen.plane.origin = pen.plane.origin + pen.plane.out * work::depthOf(w.pieces.items.at(piece).form);
    } else {
        // Where the front piece is, a shape of its own will stand.
        const bool free =
            !w.pieces.order.empty() && w.pieces.items.at(w.pieces.order.front()).placement.stance != work::Stance::AgainstWall;
        pen.plane.origin = {0, 0, free ? 0 : -w.ground.wallBehind};
    }
    m_pen = std::move(pen);
    m_context.session->choose(piece.empty() ? session::Choice() : session::Choice{{{piece, {}}}});
    m_context.say(
        use == PenFor::Cut
            ? handText("Click on one side of a stroke, then on the other, and Enter: what is right of the line becomes a segment")
            : handText(
                  "Click for corners, drag for curves; on the first point it closes. Enter ends the line, Backspace takes a point back"));
}

void Hands::penPress(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    const auto at = onPose(m_pen->plane, place);
    if (!at)
        return;
    auto& points = m_pen->line.points;
    if (points.size() > 1 && distance(seenOn(m_pen->plane, {points[0].x, points[0].y}), place) < kTake) {
        m_pen->line.closed = points.size() > 2;
        if (m_pen->line.closed) {
            endPen();
            return;
        }
    }
    Vec2 to = *at;
    if (modifiers & Qt::ShiftModifier && !points.empty()) {
        const Vec2 last{points.back().x, points.back().y};
        to = last + atEighth(to - last);
    }
    points.push_back({to.x, to.y, 0, 0, 0, 0});
    m_pen->pulls = true;
}

void Hands::penMove(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    if (!m_pen->pulls || m_pen->line.points.empty())
        return;
    work::LinePoint& p = m_pen->line.points.back();
    const auto at = onPose(m_pen->plane, place);
    if (!at)
        return;
    if (distance(seenOn(m_pen->plane, {p.x, p.y}), place) < kPull) {
        p.inX = p.inY = p.outX = p.outY = 0;
        return;
    }
    Vec2 arm{at->x - p.x, at->y - p.y};
    if (modifiers & Qt::ShiftModifier)
        arm = atEighth(arm);
    p.outX = arm.x;
    p.outY = arm.y;
    p.inX = -arm.x;
    p.inY = -arm.y;
}

bool Hands::penKey(int key)
{
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        endPen();
        return true;
    }
    if (key == Qt::Key_Backspace || key == Qt::Key_Delete) {
        if (!m_pen->line.points.empty())
            m_pen->line.points.pop_back();
        return true;
    }
    return false;
}

// The letter a cut goes through first: it will go with it.
std::string Hands::letterUnder(const Pen& pen) const
{
    constexpr int kPlaces = 40;
    for (const outline::Curve& c : outline::curvesThrough(pen.line.points, false))
        for (int i = 0; i <= kPlaces; ++i)
            if (const auto id = m_view.idAt(seenOn(pen.plane, outline::pointAt(c, double(i) / kPlaces))))
                if (const work::Address at = work::addressOf(shownWork()->work, *id); at.piece == pen.piece && !at.letter.empty())
                    return work::letterOf(at.letter);
    return {};
}

void Hands::endPen()
{
    const Pen pen = std::move(*m_pen);
    m_pen.reset();
    m_view.unsetCursor();
    if (pen.line.points.size() < 2) {
        m_context.say(handText("A line needs two points at least"));
        return;
    }
    std::string id = pen.piece;
    if (pen.use == PenFor::Cut) {
        const std::string letter = letterUnder(pen);
        m_context.session->edit(handText("Cut apart").toStdString(), [&](work::Work& w) {
            work::Cache cache;
            const auto frames = letter.empty() ? std::map<std::string, work::LetterFrame>() : work::letterFrames(w, id, cache);
            const auto frame = frames.find(letter);
            const bool goes = frame != frames.end();
            *m_context.step = session::addCut(w, id, pen.line, goes ? letter : std::string(), goes ? frame->second : work::LetterFrame{});
        });
        return;
    }
    m_context.session->edit(handText("Draw a line").toStdString(), [&](work::Work& w) {
        if (pen.use == PenFor::Shape) {
            id = session::addDrawn(w, pen.line);
            return;
        }
        const auto piece = w.pieces.items.find(id);
        if (piece == w.pieces.items.end() || !piece->second.lettering())
            return;
        work::Run& run = piece->second.lettering()->run;
        run.kind = work::RunKind::Drawn;
        run.newer.reset();
        run.line = session::drawn(pen.line, {});
    });
    session::Choice choice;
    choice.set({id, {}});
    m_context.session->choose(choice);
}

void Hands::paintPen(QPainter& painter) const
{
    session::PenLine line = m_pen->line;
    // The piece that would come next.
    const auto at = onPose(m_pen->plane, m_pointer);
    const bool closes = line.points.size() > 2 && distance(seenOn(m_pen->plane, {line.points[0].x, line.points[0].y}), m_pointer) < kTake;
    if (at && !m_pen->pulls && !line.points.empty()) {
        if (closes)
            line.closed = true;
        else
            line.points.push_back({at->x, at->y, 0, 0, 0, 0});
    }
    QPainterPath path;
    bool first = true;
    for (const outline::Curve& c : outline::curvesThrough(line.points, line.closed)) {
        const auto place = [&](int i) { return seenOn(m_pen->plane, c.p[i]); };
        if (first)
            path.moveTo(place(0));
        first = false;
        c.degree == 1 ? path.lineTo(place(1)) : path.cubicTo(place(1), place(2), place(3));
    }
    twoTonePath(painter, path);
    for (std::size_t i = 0; i < m_pen->line.points.size(); ++i) {
        const work::LinePoint& p = m_pen->line.points[i];
        const QPointF place = seenOn(m_pen->plane, {p.x, p.y});
        if (p.outX != 0 || p.outY != 0) {
            twoTone(painter, place, seenOn(m_pen->plane, {p.x + p.outX, p.y + p.outY}));
            twoTone(painter, place, seenOn(m_pen->plane, {p.x + p.inX, p.y + p.inY}));
        }
        painter.setPen(QPen(kDarkTone, 1.4));
        painter.setBrush(i == 0 && closes ? colours(Variant::Light).accent : kLightTone);
        paintPoint(painter, place);
    }
    if (closes)
        paintLabel(painter, m_pointer, handText("closes the line"));
    else if (m_pen->line.points.empty())
        paintLabel(painter, m_pointer, handText("Click for a corner, drag for a curve"));
}

}  // namespace app
