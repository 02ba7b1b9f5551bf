#include "solid/along.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "solid/check.h"

namespace solid {

namespace {

constexpr double kMostTurn = 3;  // degrees a slice
constexpr int kMostSlices = 400;
constexpr double kEdgesAcross = 24;  // of a twisted outline's size
constexpr double kPoint = 1e-4;      // size of what runs to a point: it keeps its orientation

class Map {
public:
    Map(const Along& along, Vec2 about, double low, double high)
        : m_about(about),
          m_high(high),
          m_depth(std::max(1e-9, high - low)),
          m_twist(base::radians(along.twist)),
          m_taper(std::max(kPoint, along.taper)),
          m_lean{along.leanX, along.leanY},
          m_bend(base::radians(along.bend)),
          m_towards{std::cos(base::radians(along.bendTowards)), std::sin(base::radians(along.bendTowards))}
    {
    }

    Vec3 at(Vec3 p) const
    {
        const double share = (m_high - p.z) / m_depth;
        const double angle = m_twist * share, size = 1 + (m_taper - 1) * share, c = std::cos(angle) * size, s = std::sin(angle) * size;
        const Vec2 q = Vec2{p.x, p.y} - m_about;
        const Vec2 turned = Vec2{q.x * c - q.y * s, q.x * s + q.y * c} + m_lean * share;
        if (std::abs(m_bend) < 1e-9)
            return {m_about.x + turned.x, m_about.y + turned.y, p.z};
        const double radius = m_depth / m_bend, theta = m_bend * share;
        const double across = dot(turned, m_towards);
        const Vec2 beside = turned - m_towards * across;
        const Vec2 now = m_about + beside + m_towards * (radius * (1 - std::cos(theta)) + across * std::cos(theta));
        return {now.x, now.y, m_high - radius * std::sin(theta) + across * std::sin(theta)};
    }

    Vec3 normalAt(Vec3 p, Vec3 n) const
    {
        const double h = 1e-4 * m_depth;
        const auto column = [&](Vec3 step) { return (at(p + step) - at(p - step)) * (1 / (2 * h)); };
        const Vec3 x = column({h, 0, 0}), y = column({0, h, 0}), z = column({0, 0, h});
        // The cofactors: the inverse transpose but for its sign and size.
        const Vec3 turned = cross(y, z) * n.x + cross(z, x) * n.y + cross(x, y) * n.z;
        const double length = base::length(turned);
        return length > 1e-30 ? turned * (1 / length) : n;
    }

private:
    Vec2 m_about;
    double m_high, m_depth, m_twist, m_taper;
    Vec2 m_lean;
    double m_bend;
    Vec2 m_towards;
};

}  // namespace

AlongSteps stepsFor(const Along& along, const outline::Outline& outline, double tolerancePt)
{
    const double turn = std::max(std::abs(along.twist), std::abs(along.bend));
    if (turn <= 0)
        return {};
    const base::Box2 box = outline::bounds(outline);
    const double reach = std::max(1e-6, length(box.high - box.low)) * std::max(1.0, along.taper);
    const double step = std::min(kMostTurn, base::degrees(2 * std::acos(1 - std::min(1.0, 2 * tolerancePt / reach))));
    return {std::clamp(static_cast<int>(std::ceil(turn / step)), 1, kMostSlices), reach / kEdgesAcross};
}

void deform(Body& body, const Along& along, Vec2 about)
{
    if (along.none() || body.positions.empty())
        return;
    const base::Box3 box = bounds(body);
    const Map map(along, about, box.low.z, box.high.z);
    for (std::size_t t = 0; t < body.triangles.size(); ++t)
        for (std::size_t i = 0; i < 3; ++i) {
            Corner& corner = body.corners[t][i];
            const Vec3 n = map.normalAt(toDouble(body.positions[body.triangles[t][i]]), toDouble(corner.normal));
            corner.normal = {float(n.x), float(n.y), float(n.z)};
        }
    double low = 1e300;
    std::vector<Vec3> moved;
    moved.reserve(body.positions.size());
    for (const Vec3f& p : body.positions) {
        moved.push_back(map.at(toDouble(p)));
        low = std::min(low, moved.back().z);
    }
    for (std::size_t i = 0; i < moved.size(); ++i)
        body.positions[i] = {float(moved[i].x), float(moved[i].y), float(moved[i].z - low)};
}

}  // namespace solid
