#include "outline/bend.h"

#include <algorithm>
#include <cmath>

namespace outline {

namespace {

constexpr int kMostSplits = 14;
constexpr double kLeastCosine = 0.93969262;  // of 20 degrees

CurveContour inBox(std::vector<LinePoint> points, const base::Box2& box)
{
    const Vec2 size = box.high - box.low;
    for (LinePoint& p : points)
        p = {box.low.x + p.x * size.x, box.low.y + p.y * size.y, p.inX * size.x, p.inY * size.y, p.outX * size.x, p.outY * size.y};
    return curvesThrough(points, false);
}

Vec2 unit(Vec2 v)
{
    const double size = base::length(v);
    return size > 1e-300 ? v * (1 / size) : Vec2{};
}

struct Sample {
    double t = 0;
    Vec2 point, along;
};

struct Splitter {
    const Curve& curve;
    const Between& between;
    double tolerance;
    std::vector<FlatEdge>& edges;

    Sample at(double t) const
    {
        const Vec2 p = pointAt(curve, t);
        return {t, between.apply(p), unit(between.turn(p, tangentAt(curve, t)))};
    }
    bool isFlat(const Sample& a, const Sample& b) const
    {
        if (dot(a.along, b.along) < kLeastCosine)
            return false;
        const Vec2 chord = b.point - a.point;
        const double size = base::length(chord);
        for (const double share : {0.25, 0.5, 0.75}) {
            const Vec2 d = at(a.t + (b.t - a.t) * share).point - a.point;
            const double off = size > 0 ? std::abs(chord.x * d.y - chord.y * d.x) / size : base::length(d);
            if (off > tolerance)
                return false;
        }
        return true;
    }
    void add(const Sample& a, const Sample& b, int splits) const
    {
        if (splits < kMostSplits && !isFlat(a, b)) {
            const Sample middle = at((a.t + b.t) / 2);
            add(a, middle, splits + 1);
            add(middle, b, splits + 1);
        } else if (!(a.point == b.point)) {
            edges.push_back({a.point, b.point, a.along, b.along});
        }
    }
};

}  // namespace

Between::Between(base::Box2 box, const std::vector<LinePoint>& top, const std::vector<LinePoint>& bottom)
    : m_box(box), m_top(inBox(top, box), false), m_bottom(inBox(bottom, box), false)
{
}

Vec2 Between::apply(Vec2 p) const
{
    const double u = (p.x - m_box.low.x) / (m_box.high.x - m_box.low.x), v = (p.y - m_box.low.y) / (m_box.high.y - m_box.low.y);
    return m_bottom.at(u * m_bottom.length()).point * (1 - v) + m_top.at(u * m_top.length()).point * v;
}

Vec2 Between::turn(Vec2 p, Vec2 direction) const
{
    const Vec2 size = m_box.high - m_box.low;
    const double u = (p.x - m_box.low.x) / size.x, v = (p.y - m_box.low.y) / size.y;
    const Route::Place top = m_top.at(u * m_top.length()), bottom = m_bottom.at(u * m_bottom.length());
    return (bottom.along * (m_bottom.length() * (1 - v)) + top.along * (m_top.length() * v)) * (direction.x / size.x) +
           (top.point - bottom.point) * (direction.y / size.y);
}

void flattenBent(const Curve& curve, const Between& between, double tolerance, std::vector<FlatEdge>& edges)
{
    const Splitter split{curve, between, tolerance, edges};
    // Quarters first, so that nothing hides between two places that look straight.
    constexpr int kParts = 4;
    Sample from = split.at(0);
    if (curve.degree == 1 && split.isFlat(from, split.at(1))) {
        split.add(from, split.at(1), kMostSplits);
        return;
    }
    for (int i = 1; i <= kParts; ++i) {
        const Sample to = split.at(double(i) / kParts);
        split.add(from, to, 0);
        from = to;
    }
}

TwoLines linesOf(LineStart start, double amount)
{
    // A level line of three points whose middle is raised: half a parabola on each side.
    const auto raised = [](double y, double by) {
        const double flat = 1.0 / 6;
        return std::vector<LinePoint>{{0, y, 0, 0, flat, by * 2 / 3}, {0.5, y + by, -flat, 0, flat, 0}, {1, y, -flat, by * 2 / 3, 0, 0}};
    };
    const auto sloping = [](Vec2 from, Vec2 to) {
        const Vec2 third = (to - from) * (1.0 / 3);
        return std::vector<LinePoint>{{from.x, from.y, 0, 0, third.x, third.y}, {to.x, to.y, -third.x, -third.y, 0, 0}};
    };
    const auto wave = [](double y, double by) {
        return std::vector<LinePoint>{
            {0, y, 0, 0, 1.0 / 6, by * 1.5}, {0.5, y, -1.0 / 6, by * 1.5, 1.0 / 6, -by * 1.5}, {1, y, -1.0 / 6, -by * 1.5, 0, 0}};
    };
    const double a = amount;
    switch (start) {
    case LineStart::Hill:
        return {raised(1, a), raised(0, a)};
    case LineStart::Valley:
        return {raised(1, -a), raised(0, -a)};
    case LineStart::Bridge:
        return {raised(1, 0), raised(0, a * 0.6)};
    case LineStart::Barrel:
        return {raised(1, a * 0.6), raised(0, -a * 0.6)};
    case LineStart::Waist:
        return {raised(1, -a * 0.35), raised(0, a * 0.35)};
    case LineStart::Swell:
        return {wave(1, a * 0.7), wave(0, a * 0.7)};
    case LineStart::Pennant:
        return {sloping({0, 1 + a * 0.4}, {1, 1 - a * 0.4}), sloping({0, -a * 0.4}, {1, a * 0.4})};
    case LineStart::Fan: {
        // Stems lean outwards: the top is longer, and both are arches.
        TwoLines lines{raised(1, a * 0.7), raised(0, a * 0.5)};
        lines.top.front().x -= a * 0.06;
        lines.top.back().x += a * 0.06;
        lines.bottom.front().x += a * 0.06;
        lines.bottom.back().x -= a * 0.06;
        return lines;
    }
    case LineStart::Road:
        return {sloping({a * 0.2, 1}, {1 - a * 0.2, 1}), sloping({-a * 0.1, 0}, {1 + a * 0.1, 0})};
    }
    return {};
}

TwoLines faded(TwoLines lines, double amount)
{
    const auto fade = [amount](std::vector<LinePoint>& points, double y) {
        for (std::size_t i = 0; i < points.size(); ++i) {
            LinePoint& p = points[i];
            const double x = points.size() > 1 ? double(i) / double(points.size() - 1) : 0;
            p.x = x + (p.x - x) * amount;
            p.y = y + (p.y - y) * amount;
            p.inY *= amount;
            p.outY *= amount;
        }
    };
    fade(lines.top, 1);
    fade(lines.bottom, 0);
    return lines;
}

}  // namespace outline
