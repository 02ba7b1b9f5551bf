#include "work/shapes.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/units.h"
#include "outline/route.h"

namespace work {

namespace {

using base::Vec2;
using outline::Curve;
using outline::CurveContour;

Vec2 unit(Vec2 v)
{
    const double size = length(v);
    return size > 0 ? v * (1 / size) : Vec2{};
}

// A cubic from one point to another that leaves and comes in these directions: an arc where both lie on one.
Curve arcLike(Vec2 from, Vec2 along, Vec2 to, Vec2 alongThere)
{
    const double angle = std::abs(std::atan2(along.x * alongThere.y - along.y * alongThere.x, dot(along, alongThere)));
    const double c = std::cos(angle / 4), handle = length(to - from) / (3 * c * c);
    return {3, {from, from + along * handle, to - alongThere * handle, to}};
}

// A polygon whose corners are arcs of a radius, as far as half of each side allows.
CurveContour rounded(const std::vector<Vec2>& corners, double radius)
{
    struct Corner {
        Vec2 from, to, in, out;
    };
    std::vector<Corner> arcs;
    const std::size_t n = corners.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Vec2 before = corners[(i + n - 1) % n], at = corners[i], after = corners[(i + 1) % n];
        const Vec2 in = unit(at - before), out = unit(after - at);
        const double turn = std::acos(std::clamp(dot(in, out), -1.0, 1.0));  // 0: straight on
        const double most = std::min(length(at - before), length(after - at)) / 2;
        const double cut = std::min(radius * std::tan(turn / 2), most);
        arcs.push_back({at - in * cut, at + out * cut, in, out});
    }
    CurveContour contour;
    for (std::size_t i = 0; i < n; ++i) {
        const Corner &a = arcs[i], &b = arcs[(i + 1) % n];
        if (length(a.to - a.from) > 1e-9)
            contour.push_back(arcLike(a.from, a.in, a.to, a.out));
        if (length(b.from - a.to) > 1e-9)
            contour.push_back({1, {a.to, b.from}});
    }
    return contour;
}

// Corners on an ellipse, the first at the top, counter-clockwise; every second one nearer to the middle.
std::vector<Vec2> spokes(int count, double width, double height, double inner)
{
    std::vector<Vec2> corners;
    const bool star = inner > 0;
    for (int i = 0; i < (star ? 2 * count : count); ++i) {
        const double angle = std::numbers::pi / 2 + 2 * std::numbers::pi * i / (star ? 2 * count : count);
        const double reach = star && i % 2 ? inner : 1;
        corners.push_back({std::cos(angle) * width / 2 * reach, std::sin(angle) * height / 2 * reach});
    }
    return corners;
}

// The stroke of an open line: strips beside it and discs on its points. Each is closed, counter-clockwise; together they cover it.
std::vector<CurveContour> strokeOf(const CurveContour& line, double width)
{
    constexpr int kStrips = 16;  // of a curve
    const double half = width / 2;
    std::vector<CurveContour> areas;
    const auto disc = [&](Vec2 middle) { areas.push_back(outline::ellipseArc(middle, half, half, 0, 360)); };
    for (const Curve& curve : line) {
        disc(curve.p[0]);
        const int strips = curve.degree == 1 ? 1 : kStrips;
        for (int i = 0; i < strips; ++i) {
            const double a = double(i) / strips, b = double(i + 1) / strips;
            const Vec2 from = outline::pointAt(curve, a), to = outline::pointAt(curve, b);
            const Vec2 along = outline::tangentAt(curve, a), there = outline::tangentAt(curve, b);
            const Vec2 side{along.y * half, -along.x * half}, sideThere{there.y * half, -there.x * half};  // to the right
            const bool isTight = dot(to + sideThere - from - side, along) <= 0 || dot(to - sideThere - from + side, along) <= 0;
            if (isTight) {
                disc(to);  // it turns in less than its own width
                continue;
            }
            areas.push_back({arcLike(from + side, along, to + sideThere, there),
                             {1, {to + sideThere, to - sideThere}},
                             arcLike(to - sideThere, there * -1.0, from - side, along * -1.0),
                             {1, {from - side, from + side}}});
        }
    }
    if (!line.empty())
        disc(line.back().p[line.back().degree]);
    return areas;
}

}  // namespace

std::vector<LinePoint> pointsOf(const DrawnLine& line)
{
    std::vector<LinePoint> points;
    for (const std::string& id : line.points.order)
        points.push_back(line.points.items.at(id));
    return points;
}

outline::DrawnShape curvesOf(const Shape& shape)
{
    outline::DrawnShape drawn;
    drawn.id = kShapeLetter;
    const double w = shape.width / 2, h = shape.height / 2;
    switch (shape.kind) {
    case ShapeKind::Rectangle:
        drawn.contours = {rounded({{-w, -h}, {w, -h}, {w, h}, {-w, h}}, shape.round)};
        break;
    case ShapeKind::Ellipse:
        drawn.contours = {outline::ellipseArc({}, w, h, 0, 360)};
        break;
    case ShapeKind::Ring:
        drawn.contours = {outline::ellipseArc({}, w, h, 0, 360)};
        if (shape.inner < 1)
            drawn.contours.push_back(outline::ellipseArc({}, w * shape.inner, h * shape.inner, 360, 0));
        break;
    case ShapeKind::Polygon:
        drawn.contours = {rounded(spokes(shape.points, shape.width, shape.height, 0), shape.round)};
        break;
    case ShapeKind::Star:
        drawn.contours = {rounded(spokes(shape.points, shape.width, shape.height, shape.inner), shape.round)};
        break;
    case ShapeKind::Drawn: {
        const CurveContour curves = outline::curvesThrough(pointsOf(shape.line), shape.line.closed);
        if (curves.empty())
            break;
        drawn.evenOdd = shape.line.closed;
        drawn.contours = shape.line.closed ? std::vector<CurveContour>{curves} : strokeOf(curves, shape.stroke);
        break;
    }
    case ShapeKind::Plate:  // takes those of another piece, see piece_outlines.h
        break;
    }
    return drawn;
}

outline::Drawing drawingOf(const Shape& shape)
{
    outline::DrawnShape drawn = curvesOf(shape);
    double reach = 1;
    for (const CurveContour& contour : drawn.contours)
        for (const Curve& curve : contour)
            for (int i = 0; i <= curve.degree; ++i)
                reach = std::max({reach, std::abs(curve.p[i].x), std::abs(curve.p[i].y)});
    for (CurveContour& contour : drawn.contours)
        for (Curve& curve : contour)
            for (int i = 0; i <= curve.degree; ++i)
                curve.p[i] = curve.p[i] + Vec2{reach, reach};
    return {2 * reach, 2 * reach, {std::move(drawn)}};
}

}  // namespace work
