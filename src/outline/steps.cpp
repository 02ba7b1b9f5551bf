#include "outline/steps.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "base/units.h"
#include "outline/unite.h"

namespace outline {

namespace {

constexpr int kOther = -2, kLeft = -3, kRight = -4;  // instead of a letter: whose an edge was
constexpr double kCornerDegrees = 15;                // a joint that turns more is a corner
constexpr double kLeastCutSteps = 16;                // of the grid

double unitOf(const Outlined& outlined)
{
    double unit = 0;
    for (const PlacedOutline& o : outlined.outlines)
        unit = unit == 0 ? o.outline->unitPt : std::min(unit, o.outline->unitPt);
    return unit == 0 ? 1e-4 : unit;
}

Vec2 turnedBy(base::V2<float> v, double radians)
{
    const double c = std::cos(radians), s = std::sin(radians);
    return {c * v.x - s * v.y, s * v.x + c * v.y};
}

// Where they lie, on a grid of the plane.
GridShape onPlane(const Outlined& outlined, double unit, std::optional<int> letter = {})
{
    GridShape shape;
    for (const PlacedOutline& o : outlined.outlines)
        for (const Contour& contour : o.outline->contours) {
            std::vector<GridEdge> edges;
            const auto at = [&](std::size_t i) {
                const Vec2 p = o.at(contour[i % contour.size()].from) * (1 / unit);
                return base::V2<std::int64_t>{std::llround(p.x), std::llround(p.y)};
            };
            for (std::size_t i = 0; i < contour.size(); ++i) {
                const auto from = at(i), to = at(i + 1);
                if (from.x != to.x || from.y != to.y)
                    edges.push_back({from.x, from.y, to.x, to.y, turnedBy(contour[i].normalFrom, o.turn),
                                     turnedBy(contour[i].normalTo, o.turn),
                                     letter ? *letter : o.letters[static_cast<std::size_t>(contour[i].letter)]});
            }
            if (edges.size() >= 3)
                shape.push_back(std::move(edges));
        }
    return shape;
}

Outlined placed(United united, double unit, base::Notes notes, int otherwise)
{
    Outlined result;
    result.notes = std::move(notes);
    for (std::size_t i = 0; i < united.outlines.size(); ++i) {
        // Edges of something else belong to the first letter they meet.
        std::vector<int> letters;
        std::vector<std::int32_t> numbers;
        for (const int letter : united.letters[i])
            if (letter >= 0)
                letters.push_back(letter);
        if (letters.empty())
            letters.push_back(otherwise);
        std::sort(letters.begin(), letters.end());
        for (const int letter : united.letters[i])
            numbers.push_back(letter < 0 ? 0
                                         : static_cast<std::int32_t>(std::find(letters.begin(), letters.end(), letter) - letters.begin()));
        for (Contour& contour : united.outlines[i].contours)
            for (Edge& e : contour)
                e.letter = numbers[static_cast<std::size_t>(e.letter)];
        result.outlines.push_back({std::make_shared<const Outline>(std::move(united.outlines[i])),
                                   Vec2{double(united.offsets[i].x), double(united.offsets[i].y)} * unit, std::move(letters)});
    }
    std::stable_sort(result.outlines.begin(), result.outlines.end(),
                     [](const PlacedOutline& a, const PlacedOutline& b) { return a.letters < b.letters; });
    return result;
}

int firstLetter(const Outlined& outlined)
{
    return outlined.outlines.empty() ? 0 : outlined.outlines.front().letters.front();
}

// --- rounding ---------------------------------------------------------------------------------------------------------------------

struct Side {
    Vec2 from, to, normalFrom, normalTo;
    double length = 0;
    int letter = 0;
};

Vec2 alongOf(Vec2 normal)
{
    return {-normal.y, normal.x};
}

// An edge list from a length after its start to a length before its end.
void addTrimmed(const std::vector<Side>& sides, double begin, double end, std::vector<Side>& out)
{
    double at = 0;
    for (const Side& s : sides) {
        const double a = std::max(begin, at), b = std::min(end, at + s.length);
        if (b - a > 1e-9 && s.length > 0) {
            const double t = (a - at) / s.length, u = (b - at) / s.length;
            out.push_back({lerp(s.from, s.to, t), lerp(s.from, s.to, u), normalized(lerp(s.normalFrom, s.normalTo, t)),
                           normalized(lerp(s.normalFrom, s.normalTo, u)), b - a, s.letter});
        }
        at += s.length;
    }
}

std::vector<GridEdge> roundedContour(const std::vector<GridEdge>& contour, double radius, double tolerance)
{
    std::vector<Side> sides;
    for (const GridEdge& e : contour) {
        const Vec2 from{double(e.fromX), double(e.fromY)}, to{double(e.toX), double(e.toY)};
        sides.push_back({from, to, e.normalFrom, e.normalTo, length(to - from), e.letter});
    }
    const auto turnAt = [&](std::size_t i) {
        const Vec2 a = sides[(i + sides.size() - 1) % sides.size()].normalTo, b = sides[i].normalFrom;
        return std::atan2(cross(a, b), dot(a, b));
    };
    std::vector<std::size_t> corners;
    for (std::size_t i = 0; i < sides.size(); ++i)
        if (std::abs(turnAt(i)) > kCornerDegrees * base::kPi / 180)
            corners.push_back(i);
    if (corners.empty())
        return contour;
    // The runs between corners, and how much of either end their corners take.
    struct Run {
        std::vector<Side> sides;
        double length = 0, cutBegin = 0, cutEnd = 0;
    };
    std::vector<Run> runs(corners.size());
    for (std::size_t c = 0; c < corners.size(); ++c) {
        const std::size_t next = corners[(c + 1) % corners.size()];
        std::size_t i = corners[c];
        do {
            runs[c].sides.push_back(sides[i]);
            runs[c].length += sides[i].length;
            i = (i + 1) % sides.size();
        } while (i != next);
    }
    for (std::size_t c = 0; c < corners.size(); ++c) {
        Run &before = runs[(c + corners.size() - 1) % corners.size()], &after = runs[c];
        const double wanted = radius * std::tan(std::min(std::abs(turnAt(corners[c])), 3.1) / 2);
        before.cutEnd = after.cutBegin = std::min({wanted, before.length / 2, after.length / 2});
    }
    std::vector<Side> out;
    for (std::size_t c = 0; c < runs.size(); ++c) {
        const Run &run = runs[c], &next = runs[(c + 1) % runs.size()];
        addTrimmed(run.sides, run.cutBegin, run.length - run.cutEnd, out);
        std::vector<Side> before, after;
        addTrimmed(run.sides, run.length - run.cutEnd - 1, run.length - run.cutEnd, before);
        addTrimmed(next.sides, next.cutBegin, next.cutBegin + 1, after);
        if (before.empty() || after.empty())
            continue;
        const Vec2 from = before.back().to, to = after.front().from;
        const Vec2 along = alongOf(before.back().normalTo), there = alongOf(after.front().normalFrom);
        const double angle = std::abs(std::atan2(cross(along, there), dot(along, there))), c4 = std::cos(angle / 4);
        const double handle = length(to - from) / (3 * c4 * c4);
        std::vector<FlatEdge> arc;
        flatten({3, {from, from + along * handle, to - there * handle, to}}, tolerance, arc);
        for (const FlatEdge& e : arc)
            out.push_back({e.from,
                           e.to,
                           {e.tangentFrom.y, -e.tangentFrom.x},
                           {e.tangentTo.y, -e.tangentTo.x},
                           length(e.to - e.from),
                           before.back().letter});
    }
    std::vector<GridEdge> edges;
    for (const Side& s : out) {
        const GridEdge e{
            std::llround(s.from.x), std::llround(s.from.y), std::llround(s.to.x), std::llround(s.to.y), s.normalFrom, s.normalTo, s.letter};
        if (e.fromX != e.toX || e.fromY != e.toY)
            edges.push_back(e);
    }
    return edges;
}

// --- pushing ----------------------------------------------------------------------------------------------------------------------

struct Pusher {
    PushBy push;  // in steps of the grid
    double tolerance;

    Vec2 at(Vec2 p) const
    {
        const Vec2 d = p - push.at;
        const double share = dot(d, d) / (push.radiusPt * push.radiusPt);
        return share >= 1 ? p : p + push.by * ((1 - share) * (1 - share));
    }
    // The normal of what has this normal at p: the inverse transposed of the map's Jacobian I + by grad w.
    Vec2 normal(Vec2 p, Vec2 n) const
    {
        const Vec2 d = p - push.at;
        const double r2 = push.radiusPt * push.radiusPt, share = dot(d, d) / r2;
        if (share >= 1)
            return n;
        const Vec2 slope = d * (-4 * (1 - share) / r2);
        const double det = 1 + dot(push.by, slope);
        const Vec2 turned = n * det - slope * dot(push.by, n);
        return length(turned) > 0 ? normalized(turned) : n;
    }
    void add(const Side& s, int splits, std::vector<GridEdge>& edges) const
    {
        const Vec2 middle = (s.from + s.to) * 0.5, from = at(s.from), to = at(s.to);
        const bool isNear =
            std::min({length(s.from - push.at), length(s.to - push.at), length(middle - push.at)}) < push.radiusPt + s.length / 2;
        // Long edges near the place are split whatever their middle does.
        const bool isLong = isNear && s.length > push.radiusPt / 4;
        const bool isBent = isNear && length(at(middle) - (from + to) * 0.5) > tolerance;
        if (splits < 14 && s.length > 2 && (isLong || isBent)) {
            const Vec2 n = normalized(s.normalFrom + s.normalTo);
            add({s.from, middle, s.normalFrom, n, s.length / 2, s.letter}, splits + 1, edges);
            add({middle, s.to, n, s.normalTo, s.length / 2, s.letter}, splits + 1, edges);
            return;
        }
        const GridEdge e{std::llround(from.x),
                         std::llround(from.y),
                         std::llround(to.x),
                         std::llround(to.y),
                         normal(s.from, s.normalFrom),
                         normal(s.to, s.normalTo),
                         s.letter};
        if (e.fromX != e.toX || e.fromY != e.toY)
            edges.push_back(e);
    }
};

GridShape mirrored(GridShape shape, const MirrorAt& mirror, double unit)
{
    const std::int64_t twice = std::llround(2 * mirror.atPt / unit);
    for (auto& contour : shape) {
        for (GridEdge& e : contour) {
            std::swap(e.fromX, e.toX);
            std::swap(e.fromY, e.toY);
            std::swap(e.normalFrom, e.normalTo);
            for (std::int64_t* v : mirror.across ? std::array{&e.fromX, &e.toX} : std::array{&e.fromY, &e.toY})
                *v = twice - *v;
            for (Vec2* n : {&e.normalFrom, &e.normalTo})
                (mirror.across ? n->x : n->y) *= -1;
        }
        std::reverse(contour.begin(), contour.end());
    }
    return shape;
}

// A band along the line: its left edge is tagged, and its right one.
GridShape bandOf(const std::vector<Vec2>& line, double half)
{
    std::vector<Vec2> left, right;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const Vec2 in = i > 0 ? normalized(line[i] - line[i - 1]) : Vec2{},
                   out = i + 1 < line.size() ? normalized(line[i + 1] - line[i]) : Vec2{};
        const Vec2 along = normalized(in + out);
        const double lean = std::max(0.5, length(in + out) / (i > 0 && i + 1 < line.size() ? 2 : 1));  // mitred
        left.push_back(line[i] + Vec2{-along.y, along.x} * (half / lean));
        right.push_back(line[i] - Vec2{-along.y, along.x} * (half / lean));
    }
    std::vector<GridEdge> edges;
    const auto add = [&](Vec2 a, Vec2 b, int tag) {
        const Vec2 n = normalized(Vec2{b.y - a.y, a.x - b.x});
        const GridEdge e{std::llround(a.x), std::llround(a.y), std::llround(b.x), std::llround(b.y), n, n, tag};
        if (e.fromX != e.toX || e.fromY != e.toY)
            edges.push_back(e);
    };
    for (std::size_t i = 0; i + 1 < right.size(); ++i)
        add(right[i], right[i + 1], kRight);
    add(right.back(), left.back(), kOther);
    for (std::size_t i = left.size() - 1; i > 0; --i)
        add(left[i], left[i - 1], kLeft);
    add(left.front(), right.front(), kOther);
    return {edges};
}

}  // namespace

Outlined applied(const Outlined& outlined, const Operation& operation, double tolerancePt)
{
    const double unit = unitOf(outlined), tolerance = std::max(1.0, tolerancePt / unit);
    const int first = firstLetter(outlined);
    Area area{onPlane(outlined, unit)};
    if (const auto* combine = std::get_if<CombineWith>(&operation)) {
        const Area other{combine->other ? onPlane(*combine->other, unit, kOther) : GridShape{}};
        return placed(combined(area, {&other}, combine->how, unit), unit, outlined.notes, first);
    }
    if (const auto* grow = std::get_if<GrowBy>(&operation)) {
        // One by one, so that each keeps its letter.
        Outlined result;
        result.notes = outlined.notes;
        GridShape all;
        for (const PlacedOutline& o : outlined.outlines) {
            GridShape own = onPlane({{o}, {}}, unit);
            if (grow->pt != 0)
                own = grown(own, grow->pt / unit, tolerance);
            for (auto& contour : own)
                for (GridEdge& e : contour)
                    e.letter = e.letter < 0 ? o.letters.front() : e.letter;
            all.insert(all.end(), own.begin(), own.end());
        }
        return placed(unite(all, unit), unit, outlined.notes, first);
    }
    GridShape shape;
    if (const auto* round = std::get_if<RoundBy>(&operation)) {
        for (const auto& contour : area.shape)
            shape.push_back(round->radiusPt > 0 ? roundedContour(contour, round->radiusPt / unit, tolerance) : contour);
    } else if (const auto* push = std::get_if<PushBy>(&operation)) {
        if (push->by == Vec2{} || push->radiusPt <= 0)
            return outlined;
        const Pusher pusher{{push->at * (1 / unit), push->by * (1 / unit), push->radiusPt / unit}, tolerance};
        for (const auto& contour : area.shape) {
            auto& edges = shape.emplace_back();
            for (const GridEdge& e : contour) {
                const Vec2 from{double(e.fromX), double(e.fromY)}, to{double(e.toX), double(e.toY)};
                pusher.add({from, to, e.normalFrom, e.normalTo, length(to - from), e.letter}, 0, edges);
            }
        }
    } else {
        shape = mirrored(std::move(area.shape), std::get<MirrorAt>(operation), unit);
    }
    std::erase_if(shape, [](const auto& contour) { return contour.size() < 3; });
    return placed(unite(shape, unit), unit, outlined.notes, first);
}

Halves cutAlong(const Outlined& outlined, const std::vector<Vec2>& line, double gapPt)
{
    Halves halves;
    halves.left.notes = outlined.notes;
    if (line.size() < 2) {
        halves.left = outlined;
        return halves;
    }
    const double unit = unitOf(outlined);
    std::vector<Vec2> onGrid;
    for (const Vec2 p : line)
        if (const Vec2 q = p * (1 / unit); onGrid.empty() || length(q - onGrid.back()) > 1)
            onGrid.push_back(q);
    if (onGrid.size() < 2) {
        halves.left = outlined;
        return halves;
    }
    const Area band{bandOf(onGrid, std::max(gapPt / unit, kLeastCutSteps) / 2)};
    // One by one: what is not touched stays as it is, shared and turned.
    for (const PlacedOutline& o : outlined.outlines) {
        const Area area{onPlane({{o}, {}}, unit)};
        const United united = without(area, {&band}, unit);
        std::vector<bool> isRight;
        bool touched = false;
        for (std::size_t i = 0; i < united.outlines.size(); ++i) {
            double left = 0, right = 0;
            for (const Contour& contour : united.outlines[i].contours)
                for (std::size_t k = 0; k < contour.size(); ++k) {
                    const GridPoint a = contour[k].from, b = contour[(k + 1) % contour.size()].from;
                    const double size = std::hypot(double(b.x - a.x), double(b.y - a.y));
                    const int whose = united.letters[i][static_cast<std::size_t>(contour[k].letter)];
                    left += whose == kLeft ? size : 0;
                    right += whose == kRight ? size : 0;
                    touched |= whose < 0;
                }
            isRight.push_back(right > left);
        }
        if (!touched) {
            halves.left.outlines.push_back(o);
            continue;
        }
        halves.touched = true;
        United own[2];
        for (std::size_t i = 0; i < united.outlines.size(); ++i) {
            United& half = own[isRight[i]];
            half.outlines.push_back(united.outlines[i]);
            half.letters.push_back(united.letters[i]);
            half.offsets.push_back(united.offsets[i]);
        }
        for (PlacedOutline& each : placed(std::move(own[0]), unit, {}, o.letters.front()).outlines)
            halves.left.outlines.push_back(std::move(each));
        for (PlacedOutline& each : placed(std::move(own[1]), unit, {}, o.letters.front()).outlines)
            halves.right.outlines.push_back(std::move(each));
    }
    return halves;
}

}  // namespace outline
