#include "outline/curve.h"

#include <cmath>

#include "base/units.h"

namespace outline {

namespace {

constexpr double kLargestTurn = base::kPi / 9;
constexpr int kMostSteps = 512;

Vec2 derivative(const Curve& c, double t)
{
    const double u = 1 - t;
    switch (c.degree) {
    case 1:
        return c.p[1] - c.p[0];
    case 2:
        return ((c.p[1] - c.p[0]) * u + (c.p[2] - c.p[1]) * t) * 2.0;
    default:
        return ((c.p[1] - c.p[0]) * (u * u) + (c.p[2] - c.p[1]) * (2 * u * t) + (c.p[3] - c.p[2]) * (t * t)) * 3.0;
    }
}

double largestSecondDerivative(const Curve& c)
{
    if (c.degree == 2)
        return 2 * length(c.p[0] - c.p[1] * 2.0 + c.p[2]);
    return 6 * std::max(length(c.p[0] - c.p[1] * 2.0 + c.p[2]), length(c.p[1] - c.p[2] * 2.0 + c.p[3]));
}

// Sum of the turns of the control polygon: no part of the curve turns more.
double totalTurn(const Curve& c)
{
    double turn = 0;
    Vec2 before = tangentAt(c, 0);
    for (int i = 1; i <= c.degree; ++i) {
        const Vec2 side = c.p[i] - c.p[i - 1];
        if (side == Vec2{})
            continue;
        turn += std::abs(std::atan2(cross(before, side), dot(before, side)));
        before = side;
    }
    return turn;
}

}  // namespace

Vec2 pointAt(const Curve& c, double t)
{
    const double u = 1 - t;
    switch (c.degree) {
    case 1:
        return lerp(c.p[0], c.p[1], t);
    case 2:
        return c.p[0] * (u * u) + c.p[1] * (2 * u * t) + c.p[2] * (t * t);
    default:
        return c.p[0] * (u * u * u) + c.p[1] * (3 * u * u * t) + c.p[2] * (3 * u * t * t) + c.p[3] * (t * t * t);
    }
}

Vec2 tangentAt(const Curve& c, double t)
{
    const Vec2 d = derivative(c, t);
    double size = 0;
    for (int i = 1; i <= c.degree; ++i)
        size = std::max(size, length(c.p[i] - c.p[0]));
    if (length(d) > 1e-9 * size)
        return normalized(d);
    // A control point on the end point: the curve leaves towards the next one that differs.
    if (t < 0.5) {
        for (int i = 1; i <= c.degree; ++i)
            if (length(c.p[i] - c.p[0]) > 1e-9 * size)
                return normalized(c.p[i] - c.p[0]);
    } else {
        for (int i = c.degree - 1; i >= 0; --i)
            if (length(c.p[c.degree] - c.p[i]) > 1e-9 * size)
                return normalized(c.p[c.degree] - c.p[i]);
    }
    return {};
}

void flatten(const Curve& curve, double tolerance, std::vector<FlatEdge>& edges)
{
    int steps = 1;
    if (curve.degree > 1) {
        const double byError = std::sqrt(largestSecondDerivative(curve) / (8 * tolerance));
        const double byTurn = totalTurn(curve) / kLargestTurn;
        steps = static_cast<int>(std::min<double>(kMostSteps, std::max(1.0, std::ceil(std::max(byError, byTurn)))));
    }
    Vec2 from = curve.p[0];
    Vec2 tangentFrom = tangentAt(curve, 0);
    for (int i = 1; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        const Vec2 to = i == steps ? curve.p[curve.degree] : pointAt(curve, t);
        const Vec2 tangentTo = tangentAt(curve, t);
        if (!(to == from))
            edges.push_back({from, to, tangentFrom, tangentTo});
        from = to;
        tangentFrom = tangentTo;
    }
}

}  // namespace outline
