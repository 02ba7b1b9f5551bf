#include "session/lines.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "session/edits.h"
#include "work/runs.h"
#include "work/shapes.h"
#include "work/values.h"

namespace session {

namespace {

using HandleKind = LineHandle::Kind;
using Line = LineHandle::Line;
using work::LinePoint;
using work::RunKind;
using work::ShapeKind;

constexpr int kSteps = 24;  // of a curve that is painted

// From shares of the lettering's box to its plane.
struct Block {
    Vec2 low, size, shift;

    explicit Block(const work::PiecePlace& place) : low(place.block.low), size(place.block.high - place.block.low), shift(place.shift) {}
    Vec2 at(double x, double y) const { return Vec2{low.x + x * size.x, low.y + y * size.y} + shift; }
    Vec2 by(double x, double y) const { return {x * size.x, y * size.y}; }
    Vec2 share(Vec2 p) const { return {(p.x - shift.x - low.x) / size.x, (p.y - shift.y - low.y) / size.y}; }
    Vec2 shareBy(Vec2 d) const { return {d.x / size.x, d.y / size.y}; }
};

void addPointHandles(std::vector<LineHandle>& handles, Line line, const std::string& id, Vec2 at, Vec2 in, Vec2 out)
{
    if (!(in == Vec2{}))
        handles.push_back({HandleKind::In, line, id, at + in, at});
    if (!(out == Vec2{}))
        handles.push_back({HandleKind::Out, line, id, at + out, at});
    handles.push_back({HandleKind::Point, line, id, at, at});
}

void addDrawnHandles(std::vector<LineHandle>& handles, const work::DrawnLine& line, Vec2 shift)
{
    for (const std::string& id : line.points.order) {
        const LinePoint& p = line.points.items.at(id);
        addPointHandles(handles, Line::Main, id, Vec2{p.x, p.y} + shift, {p.inX, p.inY}, {p.outX, p.outY});
    }
}

std::string pointId(std::size_t number)
{
    return "n" + std::to_string(number + 1);
}

std::vector<Vec2> seen(const outline::CurveContour& curves, Vec2 shift)
{
    std::vector<Vec2> row;
    for (const outline::Curve& c : curves) {
        const int steps = c.degree == 1 ? 1 : kSteps;
        for (int i = row.empty() ? 0 : 1; i <= steps; ++i)
            row.push_back(outline::pointAt(c, double(i) / steps) + shift);
    }
    return row;
}

std::vector<LinePoint> inPlane(std::vector<LinePoint> points, const Block& block)
{
    for (LinePoint& p : points) {
        const Vec2 at = block.at(p.x, p.y), in = block.by(p.inX, p.inY), out = block.by(p.outX, p.outY);
        p = {at.x, at.y, in.x, in.y, out.x, out.y};
    }
    return points;
}

LinePoint inShares(const LinePoint& p, const Block& block)
{
    const Vec2 at = block.share({p.x, p.y}), in = block.shareBy({p.inX, p.inY}), out = block.shareBy({p.outX, p.outY});
    return {at.x, at.y, in.x, in.y, out.x, out.y};
}

// Lines that were begun with, or faded, become points as they are seen.
void makeOwn(work::Run& run)
{
    if (!run.top.items.empty() && !run.bottom.items.empty() && run.amount == 1)
        return;
    const outline::TwoLines lines = work::linesOf(run);
    run.top = run.bottom = {};
    for (std::size_t i = 0; i < lines.top.size(); ++i)
        run.top.add(pointId(i), {lines.top[i]});
    for (std::size_t i = 0; i < lines.bottom.size(); ++i)
        run.bottom.add(pointId(i), {lines.bottom[i]});
    run.amount = 1;
}

// A handle drawn away from its point; the one across goes with it where the two made one curve.
void moveArm(LinePoint& p, bool in, Vec2 arm, bool free)
{
    const Vec2 own = in ? Vec2{p.inX, p.inY} : Vec2{p.outX, p.outY}, other = in ? Vec2{p.outX, p.outY} : Vec2{p.inX, p.inY};
    const double size = length(own), otherSize = length(other), now = length(arm);
    const bool isOne = size > 0 && otherSize > 0 && dot(own, other) < -0.999 * size * otherSize;
    (in ? p.inX : p.outX) = arm.x;
    (in ? p.inY : p.outY) = arm.y;
    if (isOne && !free && now > 0) {
        const Vec2 across = arm * (-otherSize / now);
        (in ? p.outX : p.inX) = across.x;
        (in ? p.outY : p.inY) = across.y;
    }
}

template <class Point>
void movePoint(work::Ordered<Point>& points, const LineHandle& handle, Vec2 to, bool free)
{
    const auto found = points.items.find(handle.point);
    if (found == points.items.end())
        return;
    LinePoint& p = found->second;
    if (handle.kind == HandleKind::Point) {
        p.x = to.x;
        p.y = to.y;
    } else {
        moveArm(p, handle.kind == HandleKind::In, to - Vec2{p.x, p.y}, free);
    }
}

// Where a place is nearest to on a route: its length from the start.
double nearestOn(const outline::Route& route, Vec2 to)
{
    constexpr int kPlaces = 720;
    double best = 1e300, at = 0;
    for (int i = 0; i <= kPlaces; ++i) {
        const double s = route.length() * i / kPlaces;
        if (const double d = length(route.at(s).point - to); d < best) {
            best = d;
            at = s;
        }
    }
    for (double step = route.length() / kPlaces; step > 1e-4; step /= 2)
        for (const double s : {at - step, at + step})
            if (const double d = length(route.at(s).point - to); d < best) {
                best = d;
                at = s;
            }
    return at;
}

// What the alignment anchors on the line, without the shift by hand: a share of its length.
double anchorOf(const work::Lettering& lettering)
{
    const double place = lettering.layout.align == outline::Align::Start ? 0 : lettering.layout.align == outline::Align::End ? 1 : 0.5;
    const bool closedBack = lettering.run.backwards &&
                            (lettering.run.kind == RunKind::Circle || lettering.run.kind == RunKind::Ellipse ||
                             lettering.run.kind == RunKind::Artwork || (lettering.run.kind == RunKind::Drawn && lettering.run.line.closed));
    return place + (closedBack ? 0.5 : 0);
}

// The start and the end of an arc as it bends a line of this width, from its middle.
Vec2 arcEnd(double bendDegrees, double width)
{
    const double half = base::radians(std::abs(bendDegrees)) / 2;
    if (half < 1e-6)
        return {width / 2, 0};
    const double radius = width / 2 / half;
    return {radius * std::sin(half), (bendDegrees > 0 ? -1 : 1) * radius * (1 - std::cos(half))};
}

Vec2 arcMiddle(const work::Run& run, const work::PiecePlace& place)
{
    return Vec2{0, run.side == work::Side::Under ? place.block.high.y : place.block.low.y} + place.shift;
}

}  // namespace

namespace {

// The frame a step's places are seen from; nothing where its letter is gone.
std::optional<work::LetterFrame> frameOf(const std::string& letter, const work::PiecePlace& place)
{
    if (letter.empty())
        return work::LetterFrame{};
    const auto found = place.frames.find(letter);
    return found == place.frames.end() ? std::nullopt : std::optional(found->second);
}

template <class Step>
auto* stepOf(auto& piece, const std::string& id)
{
    const auto found = piece.steps.items.find(id);
    return found == piece.steps.items.end() ? nullptr : std::get_if<Step>(&found->second.what);
}

LinePoint turned(const LinePoint& p, const work::LetterFrame& frame, bool back)
{
    const work::LetterFrame arms{{}, frame.turn};
    const auto place = [&](Vec2 v) { return back ? frame.from(v) : frame.at(v); };
    const auto arm = [&](Vec2 v) { return back ? arms.from(v) : arms.at(v); };
    const Vec2 at = place({p.x, p.y}), in = arm({p.inX, p.inY}), out = arm({p.outX, p.outY});
    return {at.x, at.y, in.x, in.y, out.x, out.y};
}

std::vector<LineHandle> stepHandles(const work::Piece& piece, const work::PiecePlace& place, const std::string& step)
{
    std::vector<LineHandle> handles;
    if (const auto* cut = stepOf<work::Cut>(piece, step)) {
        if (const auto frame = frameOf(cut->letter, place))
            for (const std::string& id : cut->line.points.order) {
                const LinePoint p = turned(cut->line.points.items.at(id), *frame, false);
                addPointHandles(handles, Line::Step, id, {p.x, p.y}, {p.inX, p.inY}, {p.outX, p.outY});
            }
    } else if (const auto* push = stepOf<work::Push>(piece, step)) {
        if (const auto frame = frameOf(push->letter, place)) {
            const Vec2 from{push->x, push->y}, to = from + Vec2{push->byX, push->byY};
            handles.push_back({HandleKind::PushRadius, Line::Step, {}, frame->at(from + Vec2{push->radius, 0}), {}, {}});
            handles.push_back({HandleKind::PushFrom, Line::Step, {}, frame->at(from), {}, {}});
            handles.push_back({HandleKind::PushTo, Line::Step, {}, frame->at(to), frame->at(from), {}});
        }
    }
    for (LineHandle& handle : handles)
        handle.step = step;
    return handles;
}

void moveStepHandle(work::Piece& piece, const work::PiecePlace& place, const LineHandle& handle, Vec2 to, bool free)
{
    if (auto* cut = stepOf<work::Cut>(piece, handle.step)) {
        const auto frame = frameOf(cut->letter, place);
        const auto found = cut->line.points.items.find(handle.point);
        if (!frame || found == cut->line.points.items.end())
            return;
        work::Ordered<LinePoint> one;
        one.add(handle.point, turned(found->second, *frame, false));
        movePoint(one, handle, to, free);
        found->second = turned(one.items.at(handle.point), *frame, true);
    } else if (auto* push = stepOf<work::Push>(piece, handle.step)) {
        const auto frame = frameOf(push->letter, place);
        if (!frame)
            return;
        const Vec2 own = frame->from(to), from{push->x, push->y};
        if (handle.kind == HandleKind::PushFrom) {
            push->x = own.x;
            push->y = own.y;
        } else if (handle.kind == HandleKind::PushTo) {
            push->byX = own.x - from.x;
            push->byY = own.y - from.y;
        } else {
            push->radius = std::max(0.1, length(own - from));
        }
    }
}

}  // namespace

work::DrawnLine* drawnLineOf(work::Piece& piece, const std::string& step)
{
    if (auto* cut = stepOf<work::Cut>(piece, step))
        return &cut->line;
    if (work::Shape* shape = piece.shape(); shape && shape->kind == ShapeKind::Drawn)
        return &shape->line;
    if (work::Lettering* lettering = piece.lettering(); lettering && !lettering->run.newer && lettering->run.kind == RunKind::Drawn)
        return &lettering->run.line;
    return nullptr;
}

std::vector<LineHandle> lineHandles(const work::Piece& piece, const work::PiecePlace& place, const std::string& step)
{
    std::vector<LineHandle> handles = stepHandles(piece, place, step);
    if (const work::Shape* shape = piece.shape()) {
        if (shape->kind == ShapeKind::Drawn) {
            addDrawnHandles(handles, shape->line, {});
        } else {
            handles.push_back({HandleKind::Width, Line::Main, {}, {shape->width / 2, 0}, {}});
            handles.push_back({HandleKind::Height, Line::Main, {}, {0, shape->height / 2}, {}});
            handles.push_back({HandleKind::Size, Line::Main, {}, {shape->width / 2, shape->height / 2}, {}});
        }
        return handles;
    }
    const work::Lettering* lettering = piece.lettering();
    if (!lettering || lettering->run.newer || place.block.empty())
        return handles;
    const work::Run& run = lettering->run;
    switch (run.kind) {
    case RunKind::Straight:
        break;
    case RunKind::Arc:
        handles.push_back(
            {HandleKind::Bend, Line::Main, {}, arcMiddle(run, place) + arcEnd(run.bend, place.block.high.x - place.block.low.x), {}});
        break;
    case RunKind::Circle:
    case RunKind::Spiral:
        handles.push_back({HandleKind::Width, Line::Main, {}, Vec2{run.width / 2, 0} + place.shift, {}});
        break;
    case RunKind::Ellipse:
        handles.push_back({HandleKind::Width, Line::Main, {}, Vec2{run.width / 2, 0} + place.shift, {}});
        handles.push_back({HandleKind::Height, Line::Main, {}, Vec2{0, -run.height / 2} + place.shift, {}});
        break;
    case RunKind::Drawn:
        addDrawnHandles(handles, run.line, place.shift);
        break;
    case RunKind::Artwork:
        break;
    case RunKind::TwoLines: {
        const Block block(place);
        const outline::TwoLines lines = work::linesOf(run);
        const auto add = [&](const std::vector<LinePoint>& points, const work::Ordered<work::SharePoint>& own, Line line) {
            for (std::size_t i = 0; i < points.size(); ++i) {
                const LinePoint& p = points[i];
                addPointHandles(handles, line, own.order.size() == points.size() ? own.order[i] : pointId(i), block.at(p.x, p.y),
                                block.by(p.inX, p.inY), block.by(p.outX, p.outY));
            }
        };
        add(lines.top, run.top, Line::Top);
        add(lines.bottom, run.bottom, Line::Bottom);
        break;
    }
    }
    if (place.route && run.kind != RunKind::Arc)
        handles.push_back({HandleKind::Start,
                           Line::Main,
                           {},
                           place.route->at((anchorOf(*lettering) + run.start) * place.route->length()).point + place.shift,
                           {}});
    return handles;
}

std::vector<std::vector<Vec2>> linesSeen(const work::Piece& piece, const work::PiecePlace& place, const std::string& step)
{
    std::vector<std::vector<Vec2>> rows;
    if (const auto* cut = stepOf<work::Cut>(piece, step)) {
        if (const auto frame = frameOf(cut->letter, place)) {
            std::vector<LinePoint> points = work::pointsOf(cut->line);
            for (LinePoint& p : points)
                p = turned(p, *frame, false);
            rows.push_back(seen(outline::curvesThrough(points, cut->line.closed), {}));
        }
    } else if (const auto* push = stepOf<work::Push>(piece, step)) {
        if (const auto frame = frameOf(push->letter, place)) {
            const Vec2 from{push->x, push->y};
            const Vec2 middle = frame->at(from);
            rows.push_back(seen(outline::ellipseArc(middle, push->radius, push->radius, 0, 360), {}));
            rows.push_back({middle, frame->at(from + Vec2{push->byX, push->byY})});
        }
    }
    if (const work::Shape* shape = piece.shape()) {
        if (shape->kind == ShapeKind::Drawn)
            rows.push_back(seen(outline::curvesThrough(work::pointsOf(shape->line), shape->line.closed), {}));
        return rows;
    }
    const work::Lettering* lettering = piece.lettering();
    if (!lettering || lettering->run.newer)
        return rows;
    if (lettering->run.kind == RunKind::TwoLines && !place.block.empty()) {
        const Block block(place);
        const outline::TwoLines lines = work::linesOf(lettering->run);
        for (const auto* points : {&lines.top, &lines.bottom})
            rows.push_back(seen(outline::curvesThrough(inPlane(*points, block), false), {}));
    } else if (place.route) {
        constexpr int kPlaces = 180;
        std::vector<Vec2> row;
        for (int i = 0; i <= kPlaces; ++i)
            row.push_back(place.route->at(place.route->length() * std::min(i / double(kPlaces), 1 - 1e-9)).point + place.shift);
        rows.push_back(std::move(row));
    }
    return rows;
}

void moveHandle(work::Piece& piece, const work::PiecePlace& place, const LineHandle& handle, Vec2 to, bool free)
{
    constexpr double kLeast = 0.1;  // pt
    if (handle.line == Line::Step)
        return moveStepHandle(piece, place, handle, to, free);
    if (work::Shape* shape = piece.shape()) {
        const double width = std::max(kLeast, 2 * std::abs(to.x)), height = std::max(kLeast, 2 * std::abs(to.y));
        if (handle.kind == HandleKind::Width)
            shape->width = width;
        else if (handle.kind == HandleKind::Height)
            shape->height = height;
        else if (handle.kind == HandleKind::Size && free) {
            shape->width = width;
            shape->height = height;
        } else if (handle.kind == HandleKind::Size) {
            const double factor = std::max(width / shape->width, height / shape->height);
            shape->width *= factor;
            shape->height *= factor;
        } else
            movePoint(shape->line.points, handle, to, free);
        return;
    }
    work::Lettering* lettering = piece.lettering();
    if (!lettering)
        return;
    work::Run& run = lettering->run;
    const Vec2 own = to - place.shift;
    switch (handle.kind) {
    case HandleKind::Bend: {
        // The end of an arc is seen from its middle under a quarter of its angle.
        const Vec2 d = to - arcMiddle(run, place);
        run.bend = std::clamp(base::degrees(4 * std::atan2(-d.y, std::max(std::abs(d.x), 1e-6))), -350.0, 350.0);
        return;
    }
    case HandleKind::Width:
        run.width = std::max(kLeast, 2 * (run.kind == RunKind::Ellipse ? std::abs(own.x) : length(own)));
        return;
    case HandleKind::Height:
        run.height = std::max(kLeast, 2 * std::abs(own.y));
        return;
    case HandleKind::Size:
        return;
    case HandleKind::Start: {
        if (!place.route || place.route->length() <= 0)
            return;
        double start = nearestOn(*place.route, own) / place.route->length() - anchorOf(*lettering);
        if (place.route->isClosed())
            start -= std::round(start);
        run.start = std::clamp(start, -1.0, 1.0);
        return;
    }
    default:
        break;
    }
    if (handle.line == Line::Main) {
        movePoint(run.line.points, handle, own, free);
        return;
    }
    makeOwn(run);
    const Block block(place);
    auto& points = handle.line == Line::Top ? run.top : run.bottom;
    // Angles are those on the plane.
    const auto found = points.items.find(handle.point);
    if (found == points.items.end())
        return;
    LinePoint p = inPlane({found->second}, block).front();
    work::Ordered<LinePoint> one;
    one.add(handle.point, p);
    movePoint(one, handle, to, free);
    p = one.items.at(handle.point);
    found->second = {inShares(p, block)};
}

namespace {

std::string freePoint(const work::Ordered<LinePoint>& points)
{
    for (std::size_t i = points.order.size();; ++i)
        if (!points.items.contains(pointId(i)))
            return pointId(i);
}

// Splits the curve after a point where it passes nearest to a place (de Casteljau).
bool splitNear(work::Ordered<LinePoint>& points, bool closed, Vec2 at, double reach)
{
    const std::size_t count = points.order.size(), curves = closed ? count : count - 1;
    double best = reach, bestT = 0;
    std::optional<std::size_t> which;
    const auto curveOf = [&](std::size_t i) {
        return outline::curvesThrough({points.items.at(points.order[i]), points.items.at(points.order[(i + 1) % count])}, false).front();
    };
    for (std::size_t i = 0; count > 1 && i < curves; ++i) {
        const outline::Curve curve = curveOf(i);
        constexpr int kPlaces = 200;
        for (int k = 1; k < kPlaces; ++k) {
            const double t = double(k) / kPlaces;
            if (const double d = length(outline::pointAt(curve, t) - at); d < best) {
                best = d;
                bestT = t;
                which = i;
            }
        }
    }
    if (!which)
        return false;
    const outline::Curve curve = curveOf(*which);
    LinePoint& from = points.items.at(points.order[*which]);
    LinePoint& to = points.items.at(points.order[(*which + 1) % count]);
    const Vec2 middle = outline::pointAt(curve, bestT);
    LinePoint added{middle.x, middle.y};
    if (curve.degree == 3) {
        const auto mix = [bestT](Vec2 a, Vec2 b) { return a * (1 - bestT) + b * bestT; };
        const Vec2 a = mix(curve.p[0], curve.p[1]), b = mix(curve.p[1], curve.p[2]), c = mix(curve.p[2], curve.p[3]);
        const Vec2 in = mix(a, b) - middle, out = mix(b, c) - middle;
        added.inX = in.x;
        added.inY = in.y;
        added.outX = out.x;
        added.outY = out.y;
        from.outX = a.x - from.x;
        from.outY = a.y - from.y;
        to.inX = c.x - to.x;
        to.inY = c.y - to.y;
    }
    const std::string id = freePoint(points);
    points.items[id] = added;
    points.order.insert(points.order.begin() + static_cast<std::ptrdiff_t>(*which) + 1, id);
    return true;
}

// The points a handle is one of, and the place in their own measure.
struct PointsOf {
    work::Ordered<LinePoint>* drawn = nullptr;
    work::Ordered<work::SharePoint>* shares = nullptr;
};
PointsOf pointsOf(work::Piece& piece, const LineHandle& handle)
{
    if (handle.line == Line::Main || handle.line == Line::Step) {
        work::DrawnLine* line = drawnLineOf(piece, handle.step);
        return {line ? &line->points : nullptr, nullptr};
    }
    work::Run& run = piece.lettering()->run;
    makeOwn(run);
    return {nullptr, handle.line == Line::Top ? &run.top : &run.bottom};
}

}  // namespace

bool addPoint(work::Piece& piece, const work::PiecePlace& place, Vec2 at, double reach, const std::string& step)
{
    if (auto* cut = stepOf<work::Cut>(piece, step)) {
        const auto frame = frameOf(cut->letter, place);
        if (frame && splitNear(cut->line.points, cut->line.closed, frame->from(at), reach))
            return true;
    }
    if (work::DrawnLine* line = drawnLineOf(piece, {}))
        return splitNear(line->points, line->closed, piece.lettering() ? at - place.shift : at, reach);
    if (!piece.lettering() || !piece.lettering()->run.isBetween() || place.block.empty())
        return false;
    work::Run own = piece.lettering()->run;
    makeOwn(own);
    const Block block(place);
    for (auto* points : {&own.top, &own.bottom}) {
        work::Ordered<LinePoint> onPlane;
        for (const std::string& id : points->order)
            onPlane.add(id, inPlane({points->items.at(id)}, block).front());
        if (!splitNear(onPlane, false, at, reach))
            continue;
        *points = {};
        for (const std::string& id : onPlane.order)
            points->add(id, {inShares(onPlane.items.at(id), block)});
        piece.lettering()->run = own;
        return true;
    }
    return false;
}

bool removePoint(work::Piece& piece, const work::PiecePlace&, const LineHandle& handle)
{
    const auto remove = [&](auto& points, std::size_t least) {
        if (points.order.size() <= least || !points.items.contains(handle.point))
            return false;
        points.items.erase(handle.point);
        std::erase(points.order, handle.point);
        return true;
    };
    const PointsOf points = pointsOf(piece, handle);
    if (points.drawn)
        return remove(*points.drawn, drawnLineOf(piece, handle.step)->closed ? 3 : 2);
    return points.shares && remove(*points.shares, 2);
}

void toggleCorner(work::Piece& piece, const work::PiecePlace&, const LineHandle& handle)
{
    const auto toggle = [&](auto& points, bool closed) {
        const auto found = points.items.find(handle.point);
        if (found == points.items.end())
            return;
        LinePoint& p = found->second;
        if (p.inX != 0 || p.inY != 0 || p.outX != 0 || p.outY != 0) {
            p.inX = p.inY = p.outX = p.outY = 0;
            return;
        }
        // A curve as even as its neighbours allow: along the line between them, a third of the way.
        const auto at = static_cast<std::size_t>(std::find(points.order.begin(), points.order.end(), handle.point) - points.order.begin());
        const std::size_t count = points.order.size();
        const bool hasBefore = at > 0 || closed, hasAfter = at + 1 < count || closed;
        const LinePoint& before = hasBefore ? points.items.at(points.order[(at + count - 1) % count]) : p;
        const LinePoint& after = hasAfter ? points.items.at(points.order[(at + 1) % count]) : p;
        const Vec2 along{after.x - before.x, after.y - before.y};
        const double size = length(along);
        if (size <= 0)
            return;
        const double back = std::hypot(p.x - before.x, p.y - before.y) / 3, on = std::hypot(after.x - p.x, after.y - p.y) / 3;
        p.inX = -along.x / size * back;
        p.inY = -along.y / size * back;
        p.outX = along.x / size * on;
        p.outY = along.y / size * on;
    };
    const PointsOf points = pointsOf(piece, handle);
    if (points.drawn)
        toggle(*points.drawn, drawnLineOf(piece, handle.step)->closed);
    else if (points.shares)
        toggle(*points.shares, false);
}

work::DrawnLine drawn(const PenLine& line, Vec2 middle)
{
    work::DrawnLine result;
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        LinePoint p = line.points[i];
        p.x -= middle.x;
        p.y -= middle.y;
        result.points.add(pointId(i), p);
    }
    result.closed = line.closed && line.points.size() > 2;
    return result;
}

std::string addCut(work::Work& work, const std::string& piece, const PenLine& line, const std::string& letter,
                   const work::LetterFrame& frame)
{
    work::Cut cut;
    cut.letter = letter;
    PenLine own = line;
    for (LinePoint& p : own.points)
        p = turned(p, letter.empty() ? work::LetterFrame{} : frame, true);
    cut.line = drawn(own, {});
    work::Piece& cutUp = work.pieces.items.at(piece);
    cut.gap = std::round(cutUp.sizePt() / 4) / 10;
    const std::string id = work.newId("g");
    cutUp.steps.add(id, {true, std::move(cut)});
    return id;
}

std::string addShape(work::Work& work, work::Shape shape, Vec2 middle)
{
    // Like the lettering that is there; a board is flatter.
    const std::string id = addLettering(work, "x");
    work::Piece& piece = work.pieces.items.at(id);
    const double size = piece.sizePt();
    piece.source = std::move(shape);
    work::grow(piece, std::clamp(piece.sizePt() / size, 0.05, 1.0));
    piece.placement.x = middle.x;
    piece.placement.y = middle.y;
    piece.placement.roll = 0;
    piece.steps = {};
    return id;
}

std::string addDrawn(work::Work& work, const PenLine& line)
{
    base::Box2 box;
    for (const Vec2 p : seen(outline::curvesThrough(line.points, line.closed), {}))
        box.add(p);
    work::Shape shape;
    shape.kind = ShapeKind::Drawn;
    const Vec2 middle = box.empty() ? Vec2{} : (box.low + box.high) * 0.5;
    shape.line = drawn(line, middle);
    shape.stroke = work.sheet().widthPt() / 60;
    return addShape(work, std::move(shape), middle);
}

}  // namespace session
