#include "outline/unite.h"

#include <algorithm>
#include <map>
#include <polyclipping/clipper.hpp>
#include <unordered_map>

#include "base/units.h"
#include "outline/steps.h"

namespace outline {

namespace {

constexpr double kCellsAcross = 100;  // of an outline that grows little

using ClipperLib::Path;
using ClipperLib::Paths;
using ClipperLib::PolyNode;

constexpr double kCleanDistance = 1.415;         // grid steps: neighbours closer than a diagonal step become one
constexpr double kNearEdge = 6.0;                // grid steps: how far cleaning and crossing may move a point off its source edge
constexpr double kSmoothJoint = base::kPi / 36;  // fonts round control points; a joint under 5 degrees is meant smooth

// Finds the source edge a united edge lies on.
class EdgeFinder {
public:
    explicit EdgeFinder(const GridShape& shape)
    {
        double total = 0;
        std::size_t count = 0;
        for (const auto& contour : shape)
            for (const GridEdge& e : contour) {
                m_edges.push_back(&e);
                total += std::hypot(double(e.toX - e.fromX), double(e.toY - e.fromY));
                ++count;
            }
        m_cell = std::max(64.0, 2 * total / std::max<std::size_t>(count, 1));
        for (std::size_t i = 0; i < m_edges.size(); ++i)
            visitCells(*m_edges[i], [&](std::uint64_t key) { m_cells[key].push_back(static_cast<int>(i)); });
    }

    const GridEdge* find(Vec2 a, Vec2 b) const
    {
        const Vec2 middle = (a + b) * 0.5;
        const Vec2 direction = normalized(b - a);
        const GridEdge* best = nullptr;
        double bestScore = kNearEdge;
        const std::int64_t cx = cellOf(middle.x), cy = cellOf(middle.y);
        for (std::int64_t y = cy - 1; y <= cy + 1; ++y)
            for (std::int64_t x = cx - 1; x <= cx + 1; ++x)
                if (const auto found = m_cells.find(keyOf(x, y)); found != m_cells.end())
                    for (const int i : found->second) {
                        const double score = distance(*m_edges[i], middle, direction);
                        if (score < bestScore) {
                            bestScore = score;
                            best = m_edges[i];
                        }
                    }
        return best;
    }

private:
    std::int64_t cellOf(double v) const { return static_cast<std::int64_t>(std::floor(v / m_cell)); }
    static std::uint64_t keyOf(std::int64_t x, std::int64_t y)
    {
        return static_cast<std::uint64_t>(x) << 32 ^ static_cast<std::uint32_t>(y);
    }

    template <class F>
    void visitCells(const GridEdge& e, F visit) const
    {
        const double length = std::hypot(double(e.toX - e.fromX), double(e.toY - e.fromY));
        const int steps = static_cast<int>(length / m_cell * 2) + 1;
        std::uint64_t last = 0;
        for (int i = 0; i <= steps; ++i) {
            const double t = double(i) / steps;
            const std::uint64_t key = keyOf(cellOf(e.fromX + t * (e.toX - e.fromX)), cellOf(e.fromY + t * (e.toY - e.fromY)));
            if (i == 0 || key != last)
                visit(key);
            last = key;
        }
    }

    // Distance of a point from an edge, larger the less parallel the directions are.
    static double distance(const GridEdge& e, Vec2 p, Vec2 direction)
    {
        const Vec2 from{double(e.fromX), double(e.fromY)};
        const Vec2 d = Vec2{double(e.toX), double(e.toY)} - from;
        const double length2 = dot(d, d);
        if (length2 == 0)
            return 1e9;
        const double t = std::clamp(dot(p - from, d) / length2, 0.0, 1.0);
        const double slant = std::abs(cross(d, direction)) / std::sqrt(length2);
        return base::length(p - (from + d * t)) + 4 * slant;
    }

    std::vector<const GridEdge*> m_edges;
    std::unordered_map<std::uint64_t, std::vector<int>> m_cells;
    double m_cell = 1;
};

Vec2 normalOn(const GridEdge& e, Vec2 p)
{
    const Vec2 from{double(e.fromX), double(e.fromY)};
    const Vec2 d = Vec2{double(e.toX), double(e.toY)} - from;
    return normalized(lerp(e.normalFrom, e.normalTo, std::clamp(dot(p - from, d) / dot(d, d), 0.0, 1.0)));
}

base::V2<float> asFloat(Vec2 v)
{
    return {static_cast<float>(v.x), static_cast<float>(v.y)};
}
Vec2 asDouble(base::V2<float> v)
{
    return {v.x, v.y};
}

// Joints whose curve directions nearly agree get one normal.
void smoothJoints(Contour& contour)
{
    for (std::size_t i = 0; i < contour.size(); ++i) {
        Edge& before = contour[i];
        Edge& after = contour[(i + 1) % contour.size()];
        const Vec2 a = asDouble(before.normalTo), b = asDouble(after.normalFrom);
        if (!(a == b) && std::abs(std::atan2(cross(a, b), dot(a, b))) < kSmoothJoint)
            before.normalTo = after.normalFrom = asFloat(normalized(a + b));
    }
}

Contour contourFrom(const Path& path, const EdgeFinder& finder, base::V2<std::int64_t> offset, std::vector<int>& letters)
{
    Contour contour;
    for (std::size_t i = 0; i < path.size(); ++i) {
        const auto& p = path[i];
        const auto& q = path[(i + 1) % path.size()];
        const Vec2 a{double(p.X), double(p.Y)}, b{double(q.X), double(q.Y)};
        const Vec2 own = normalized(Vec2{b.y - a.y, a.x - b.x});
        Edge edge{{static_cast<std::int32_t>(p.X - offset.x), static_cast<std::int32_t>(p.Y - offset.y)}, asFloat(own), asFloat(own), 0};
        int letter = letters.empty() ? 0 : letters.front();
        if (const GridEdge* source = finder.find(a, b)) {
            Vec2 from = normalOn(*source, a), to = normalOn(*source, b);
            if (dot(from + to, own) < 0) {
                from = -from;
                to = -to;
            }
            // A curve that leaves its own edge by more than 60 degrees is no help for shading.
            if (dot(from, own) > 0.5 && dot(to, own) > 0.5) {
                edge.normalFrom = asFloat(from);
                edge.normalTo = asFloat(to);
            }
            letter = source->letter;
        }
        const auto at = std::find(letters.begin(), letters.end(), letter);
        edge.letter = static_cast<std::int32_t>(at - letters.begin());
        if (at == letters.end())
            letters.push_back(letter);
        contour.push_back(edge);
    }
    smoothJoints(contour);
    return contour;
}

// A point that lies on another edge becomes a corner of that edge too: contours touch in corners only.
void splitAtTouchingPoints(std::vector<Path>& contours)
{
    std::vector<ClipperLib::IntPoint> points;
    for (const Path& path : contours)
        points.insert(points.end(), path.begin(), path.end());
    const auto byX = [](const ClipperLib::IntPoint& a, const ClipperLib::IntPoint& b) { return a.X < b.X; };
    std::sort(points.begin(), points.end(), byX);
    for (Path& path : contours) {
        Path split;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const auto a = path[i], b = path[(i + 1) % path.size()];
            split.push_back(a);
            const Vec2 d{double(b.X - a.X), double(b.Y - a.Y)};
            const double length = base::length(d);
            std::vector<std::pair<double, ClipperLib::IntPoint>> on;
            const auto first = std::lower_bound(points.begin(), points.end(), ClipperLib::IntPoint(std::min(a.X, b.X) - 1, 0), byX);
            for (auto p = first; p != points.end() && p->X <= std::max(a.X, b.X) + 1; ++p) {
                if (p->Y < std::min(a.Y, b.Y) - 1 || p->Y > std::max(a.Y, b.Y) + 1)
                    continue;
                const Vec2 q{double(p->X - a.X), double(p->Y - a.Y)};
                const double along = dot(q, d) / length;
                if (along > 1 && along < length - 1 && std::abs(cross(d, q)) < length && (on.empty() || !(on.back().second == *p)))
                    on.emplace_back(along, *p);
            }
            std::sort(on.begin(), on.end(), [](const auto& x, const auto& y) { return x.first < y.first; });
            for (const auto& [_, p] : on)
                split.push_back(p);
        }
        path = std::move(split);
    }
}

// Corners exactly between their neighbours say nothing, and the roof's diagram would have no vertex there. Those that another
// contour touches stay.
void dropStraightCorners(std::vector<Path>& contours)
{
    std::map<std::pair<ClipperLib::cInt, ClipperLib::cInt>, int> uses;
    for (const Path& path : contours)
        for (const auto& p : path)
            ++uses[{p.X, p.Y}];
    for (Path& path : contours) {
        Path kept;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const auto &before = kept.empty() ? path.back() : kept.back(), &p = path[i], &after = path[(i + 1) % path.size()];
            const Vec2 in{double(p.X - before.X), double(p.Y - before.Y)}, out{double(after.X - p.X), double(after.Y - p.Y)};
            if (cross(in, out) != 0 || dot(in, out) < 0 || uses[{p.X, p.Y}] > 1)
                kept.push_back(p);
        }
        path = std::move(kept);
    }
}

Paths pathsOf(const GridShape& shape)
{
    Paths paths;
    for (const auto& contour : shape) {
        Path path;
        for (const GridEdge& e : contour)
            path.emplace_back(e.fromX, e.fromY);
        paths.push_back(std::move(path));
    }
    return paths;
}

Paths unitedOnce(const Paths& paths, ClipperLib::PolyFillType rule)
{
    ClipperLib::Clipper clipper;
    clipper.AddPaths(paths, ClipperLib::ptSubject, true);
    Paths result;
    clipper.Execute(ClipperLib::ctUnion, result, rule, rule);
    return result;
}

void addOutline(const PolyNode& outer, const EdgeFinder& finder, double unitPt, United& united)
{
    std::vector<Path> contours{outer.Contour};
    for (const PolyNode* hole : outer.Childs)
        contours.push_back(hole->Contour);
    splitAtTouchingPoints(contours);
    dropStraightCorners(contours);
    base::V2<std::int64_t> low{INT64_MAX, INT64_MAX};
    for (const auto& p : contours.front())
        low = {std::min<std::int64_t>(low.x, p.X), std::min<std::int64_t>(low.y, p.Y)};
    std::vector<int> letters;
    Outline outline;
    outline.unitPt = unitPt;
    for (const Path& path : contours)
        if (path.size() >= 3)
            outline.contours.push_back(contourFrom(path, finder, low, letters));
    for (const PolyNode* hole : outer.Childs)
        for (const PolyNode* island : hole->Childs)
            addOutline(*island, finder, unitPt, united);
    if (contours.front().size() < 3)
        return;
    united.outlines.push_back(std::move(outline));
    united.letters.push_back(std::move(letters));
    united.offsets.push_back(low);
}

}  // namespace

namespace {

// Cleaned to steps of the grid, united once more and split.
United split(Paths paths, const EdgeFinder& finder, double unitPt)
{
    ClipperLib::CleanPolygons(paths, kCleanDistance);
    ClipperLib::Clipper clipper;
    clipper.StrictlySimple(true);
    clipper.AddPaths(paths, ClipperLib::ptSubject, true);
    ClipperLib::PolyTree tree;
    clipper.Execute(ClipperLib::ctUnion, tree, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
    United united;
    for (const PolyNode* outer : tree.Childs)
        addOutline(*outer, finder, unitPt, united);
    return united;
}

}  // namespace

United unite(const GridShape& shape, double unitPt)
{
    return split(unitedOnce(pathsOf(shape), ClipperLib::pftNonZero), EdgeFinder(shape), unitPt);
}

United combined(const Area& area, const std::vector<const Area*>& others, How how, double unitPt)
{
    const auto ruleOf = [](const Area& a) { return a.evenOdd ? ClipperLib::pftEvenOdd : ClipperLib::pftNonZero; };
    Paths paths = unitedOnce(pathsOf(area.shape), ruleOf(area));
    GridShape sources = area.shape;
    ClipperLib::Clipper clipper;
    clipper.AddPaths(paths, ClipperLib::ptSubject, true);
    for (const Area* other : others) {
        clipper.AddPaths(unitedOnce(pathsOf(other->shape), ruleOf(*other)), ClipperLib::ptClip, true);
        sources.insert(sources.end(), other->shape.begin(), other->shape.end());
    }
    const auto type = how == How::Unite      ? ClipperLib::ctUnion
                      : how == How::Subtract ? ClipperLib::ctDifference
                                             : ClipperLib::ctIntersection;
    if (!others.empty())
        clipper.Execute(type, paths, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
    return split(std::move(paths), EdgeFinder(sources), unitPt);
}

United without(const Area& area, const std::vector<const Area*>& others, double unitPt)
{
    return combined(area, others, How::Subtract, unitPt);
}

GridShape shapeOf(const United& united)
{
    GridShape shape;
    for (std::size_t i = 0; i < united.outlines.size(); ++i)
        for (const Contour& contour : united.outlines[i].contours) {
            std::vector<GridEdge> edges;
            for (std::size_t k = 0; k < contour.size(); ++k) {
                const Edge &e = contour[k], &next = contour[(k + 1) % contour.size()];
                edges.push_back({e.from.x + united.offsets[i].x, e.from.y + united.offsets[i].y, next.from.x + united.offsets[i].x,
                                 next.from.y + united.offsets[i].y, asDouble(e.normalFrom), asDouble(e.normalTo), 0});
            }
            shape.push_back(std::move(edges));
        }
    return shape;
}

GridShape grown(const GridShape& shape, double steps, double tolerance)
{
    const United united = unite(shape, 1);
    Paths paths;
    std::vector<std::pair<Vec2, Vec2>> source;
    for (std::size_t i = 0; i < united.outlines.size(); ++i)
        for (const Contour& contour : united.outlines[i].contours) {
            Path path;
            for (const Edge& e : contour)
                path.emplace_back(e.from.x + united.offsets[i].x, e.from.y + united.offsets[i].y);
            for (std::size_t k = 0; k < path.size(); ++k) {
                const auto a = path[k], b = path[(k + 1) % path.size()];
                source.push_back({{double(a.X), double(a.Y)}, {double(b.X), double(b.Y)}});
            }
            paths.push_back(std::move(path));
        }
    ClipperLib::ClipperOffset offset(2, std::max(1.0, tolerance));
    offset.AddPaths(paths, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
    Paths out;
    offset.Execute(out, steps);

    // What is nearest to a point of the offset is as far as the offset: found among the edges of the cells round it.
    base::Box2 box;
    for (const auto& [a, b] : source) {
        box.add(a);
        box.add(b);
    }
    const double extent = std::max({box.high.x - box.low.x, box.high.y - box.low.y, 1.0});
    const double cell = std::max(1.05 * std::abs(steps) + 2 * tolerance + 2, extent / kCellsAcross);
    const auto cellOf = [&](double x, double low) { return static_cast<std::int64_t>(std::floor((x - low) / cell)); };
    std::map<std::pair<std::int64_t, std::int64_t>, std::vector<std::size_t>> cells;
    for (std::size_t i = 0; i < source.size(); ++i) {
        const auto& [a, b] = source[i];
        for (std::int64_t x = cellOf(std::min(a.x, b.x), box.low.x); x <= cellOf(std::max(a.x, b.x), box.low.x); ++x)
            for (std::int64_t y = cellOf(std::min(a.y, b.y), box.low.y); y <= cellOf(std::max(a.y, b.y), box.low.y); ++y)
                cells[{x, y}].push_back(i);
    }
    const auto awayFromSource = [&](Vec2 p, Vec2 otherwise) {
        double best = 1e300;
        Vec2 away;
        const std::int64_t x = cellOf(p.x, box.low.x), y = cellOf(p.y, box.low.y);
        for (std::int64_t i = x - 1; i <= x + 1; ++i)
            for (std::int64_t j = y - 1; j <= y + 1; ++j) {
                const auto found = cells.find({i, j});
                if (found == cells.end())
                    continue;
                for (const std::size_t edge : found->second) {
                    const auto& [a, b] = source[edge];
                    const Vec2 d = b - a, to = p - (a + d * std::clamp(dot(p - a, d) / dot(d, d), 0.0, 1.0));
                    if (const double square = dot(to, to); square < best) {
                        best = square;
                        away = to;
                    }
                }
            }
        if (best > 1e299)
            return otherwise;
        return best > 0 ? normalized(away) * (steps < 0 ? -1 : 1) : otherwise;
    };
    GridShape result;
    for (const Path& path : out) {
        std::vector<GridEdge> edges;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const auto p = path[i], q = path[(i + 1) % path.size()];
            const Vec2 from{double(p.X), double(p.Y)}, to{double(q.X), double(q.Y)}, d = to - from;
            if (dot(d, d) == 0)
                continue;
            // A hair inside the edge: at an inner crease both sides' sources are equally near.
            const Vec2 own = normalized(Vec2{d.y, -d.x});
            edges.push_back({p.X, p.Y, q.X, q.Y, awayFromSource(from + d * 0.01, own), awayFromSource(to - d * 0.01, own), -1});
        }
        if (edges.size() >= 3)
            result.push_back(std::move(edges));
    }
    return result;
}

}  // namespace outline
