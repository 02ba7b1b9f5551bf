#include "work/runs.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "work/bodies.h"
#include "work/piece_outlines.h"
#include "work/shapes.h"
#include "work/typeset.h"

namespace work {

namespace {

using base::Vec2;
using outline::CurveContour;
using outline::Route;

double twiceArea(const CurveContour& contour)
{
    double twice = 0;
    for (const outline::Curve& c : contour)
        for (int i = 0; i < c.degree; ++i)
            twice += c.p[i].x * c.p[i + 1].y - c.p[i + 1].x * c.p[i].y;
    return twice;
}

// The largest contour of a piece, or of one of its shapes.
CurveContour contourOf(const Work& work, const Run& run, Cache& cache)
{
    const auto piece = work.pieces.items.find(run.piece);
    if (piece == work.pieces.items.end() || !(piece->second.artwork() || piece->second.shape()))
        return {};
    CurveContour largest;
    for (const auto& [letter, shape] : curvesOf(work, piece->second, cache))
        if (run.shape.empty() || run.shape == letter)
            for (const CurveContour& contour : shape.contours)
                if (std::abs(twiceArea(contour)) > std::abs(twiceArea(largest)))
                    largest = contour;
    return largest;
}

// The width of the longest line as its letters run.
Route arcOf(double bendDegrees, double width, double baseline)
{
    const double sweep = std::abs(bendDegrees), radius = width / base::radians(sweep);
    if (bendDegrees > 0)
        return {outline::ellipseArc({0, baseline - radius}, radius, radius, 90 + sweep / 2, 90 - sweep / 2), false};
    return {outline::ellipseArc({0, baseline + radius}, radius, radius, 270 - sweep / 2, 270 + sweep / 2), false};
}

std::optional<outline::Bend> bendOf(const Run& run, const outline::Layout& layout, double capHeight)
{
    const outline::TwoLines lines = linesOf(run);
    outline::Bend bend;
    if (!run.eachLine) {
        const base::Box2 box = blockOf(layout, capHeight);
        if (box.empty() || box.high.x - box.low.x <= 0 || box.high.y - box.low.y <= 0)
            return std::nullopt;
        bend.lines.push_back({box, lines.top, lines.bottom});
        return bend;
    }
    for (std::size_t i = 0; i < layout.baselines.size(); ++i) {
        base::Box2 box;
        for (const outline::PlacedGlyph& g : layout.glyphs)
            if (g.line == static_cast<int>(i)) {
                box.add(Vec2{g.middle - g.advance / 2, layout.baselines[i]});
                box.add(Vec2{g.middle + g.advance / 2, layout.baselines[i] + capHeight});
            }
        if (box.empty() || box.high.x - box.low.x <= 0)
            box = {{-1, layout.baselines[i]}, {1, layout.baselines[i] + capHeight}};  // of an empty line
        bend.lines.push_back({box, lines.top, lines.bottom});
    }
    return bend;
}

}  // namespace

outline::Route routeOf(const Work& work, const Run& run, Cache& cache)
{
    switch (run.kind) {
    case RunKind::Circle:
        return {outline::ellipseArc({}, run.width / 2, run.width / 2, 270, -90), true};
    case RunKind::Ellipse:
        return {outline::ellipseArc({}, run.width / 2, run.height / 2, 270, -90), true};
    case RunKind::Spiral:
        return {outline::spiral(run.inner * run.width / 2, run.width / 2, run.turns), false};
    case RunKind::Drawn: {
        const Route route(outline::curvesThrough(pointsOf(run.line), run.line.closed), run.line.closed);
        return run.line.closed ? route.fromBelow() : route;
    }
    case RunKind::Artwork:
        return Route(contourOf(work, run, cache), true).fromBelow();
    case RunKind::Straight:
    case RunKind::Arc:
    case RunKind::TwoLines:
        break;
    }
    return {};
}

outline::TwoLines linesOf(const Run& run)
{
    if (run.top.items.empty() || run.bottom.items.empty())
        return outline::linesOf(run.lines, run.amount);
    outline::TwoLines drawn;
    for (const std::string& id : run.top.order)
        drawn.top.push_back(run.top.items.at(id));
    for (const std::string& id : run.bottom.order)
        drawn.bottom.push_back(run.bottom.items.at(id));
    return outline::faded(std::move(drawn), run.amount);
}

base::Box2 blockOf(const outline::Layout& straight, double capHeight)
{
    base::Box2 box;
    for (const outline::PlacedGlyph& g : straight.glyphs) {
        box.add(Vec2{g.middle - g.advance / 2, straight.baselines.back()});
        box.add(Vec2{g.middle + g.advance / 2, straight.baselines.front() + capHeight});
    }
    return box;
}

Running setOnRun(const Work& work, const Lettering& lettering, outline::Layout straight, double capHeight, Cache& cache)
{
    const Run& run = lettering.run;
    Running result;
    result.layout = std::move(straight);
    outline::Layout& layout = result.layout;
    if (run.isBetween()) {
        result.bend = bendOf(run, layout, capHeight);
        return result;
    }
    if (!run.isAlong() || layout.widthPt <= 0)
        return result;
    const bool under = run.side == Side::Under, arc = run.kind == RunKind::Arc;
    result.route = arc ? arcOf(run.bend, layout.widthPt, under ? layout.baselines.front() + capHeight : layout.baselines.back())
                       : routeOf(work, run, cache);
    const double length = result.route.length();
    if (length <= 0) {
        layout.notes.push_back({"no-line",
                                run.kind == RunKind::Artwork
                                    ? "The piece this lettering runs round is not there or has no outline; it stays straight"
                                    : "The line this lettering runs along has no points yet; it stays straight. Draw one with the pen",
                                {}});
        return result;
    }
    outline::AlongSettings along{run.start * length, under, run.upright, run.fill, capHeight};
    if (arc) {
        along.start = 0;
        along.fill = false;
    } else if (run.backwards) {
        result.route = result.route.backwards();
        // Of a closed line the middle is at the bottom then.
        if (result.route.isClosed())
            along.start += length / 2;
    }
    outline::setAlong(layout, result.route, along);
    result.hasOwnMiddle = run.hasOwnMiddle();
    return result;
}

std::vector<std::string> piecesToRunRound(const Work& work)
{
    std::vector<std::string> pieces;
    for (const std::string& id : work.pieces.order)
        if (const Piece& piece = work.pieces.items.at(id); piece.artwork() || (piece.shape() && !piece.shape()->isPlate()))
            pieces.push_back(id);
    return pieces;
}

void chooseRun(Work& work, const std::string& id, RunKind kind, Cache& cache)
{
    constexpr double kOfTheLine = 0.55;  // that the text takes
    Piece& piece = work.pieces.items.at(id);
    if (!piece.lettering())
        return;
    Lettering& lettering = *piece.lettering();
    Run& run = lettering.run;
    const Run usual;
    run.kind = kind;
    run.newer.reset();
    const bool sized = run.width != usual.width || run.height != usual.height;
    if (!sized && (kind == RunKind::Circle || kind == RunKind::Ellipse || kind == RunKind::Spiral)) {
        base::Notes notes;
        const auto set = typeset(work, piece, cache, notes);
        if (set && set->layout.widthPt > 0) {
            const double room = std::min(work.sheet().widthPt(), work.sheet().heightPt()) * 0.88 - 2 * set->capHeightPt;
            run.width = std::round(std::max(1.0, std::min(set->layout.widthPt / kOfTheLine / base::kPi, room)));
            run.height = std::round(0.7 * run.width);
        }
    }
    if (kind == RunKind::Artwork && !work.pieces.items.contains(run.piece)) {
        if (const auto pieces = piecesToRunRound(work); !pieces.empty()) {
            run.piece = pieces.front();
            run.shape.clear();
            const Placement& there = work.pieces.items.at(run.piece).placement;
            piece.placement.x = there.x;
            piece.placement.y = there.y;
        }
    }
}

base::Box2 boxOf(const Running& running, double capHeight)
{
    constexpr int kPlaces = 3;  // along each side of a letter
    base::Box2 box;
    for (const outline::PlacedGlyph& g : running.layout.glyphs) {
        const double c = std::cos(g.turn), s = std::sin(g.turn);
        for (int i = 0; i <= kPlaces; ++i)
            for (int k = 0; k <= kPlaces; ++k) {
                const Vec2 own{g.advance * i / kPlaces, capHeight * k / kPlaces};
                const Vec2 at = g.origin + Vec2{c * own.x - s * own.y, s * own.x + c * own.y};
                box.add(running.bend ? running.bend->of(g.line).apply(at) : at);
            }
    }
    return box;
}

}  // namespace work
