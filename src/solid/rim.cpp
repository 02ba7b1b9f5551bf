#include "solid/rim.h"

#include <algorithm>
#include <cmath>

namespace solid {

namespace {

Vec2 slerp(Vec2 a, Vec2 b, double t)
{
    const double angle = std::atan2(cross(a, b), dot(a, b)) * t;
    const double c = std::cos(angle), s = std::sin(angle);
    return {a.x * c - a.y * s, a.x * s + a.y * c};
}

constexpr double kHidesSeam = 0.5;  // cosine of the turn: a corner this sharp has an edge of its own

// The edge of a contour that lengths along it begin at.
std::size_t seamOf(const outline::Contour& contour)
{
    std::size_t best = 0;
    const auto key = [&](std::size_t i) {
        const outline::Edge &e = contour[i], &before = contour[(i + contour.size() - 1) % contour.size()];
        const double cosine = e.normalFrom.x * before.normalTo.x + e.normalFrom.y * before.normalTo.y;
        return std::pair(cosine > kHidesSeam, e.from.y);
    };
    for (std::size_t i = 1; i < contour.size(); ++i)
        if (key(i) < key(best))
            best = i;
    return best;
}

}  // namespace

std::vector<RimEdge> rimOf(const outline::Outline& outline)
{
    std::vector<RimEdge> list;
    for (const outline::Contour& contour : outline.contours) {
        double start = 0;
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const outline::Edge& e = contour[i];
            const outline::GridPoint next = contour[(i + 1) % contour.size()].from;
            const Vec2 a = Vec2{double(e.from.x), double(e.from.y)} * outline.unitPt;
            const Vec2 d = Vec2{double(next.x), double(next.y)} * outline.unitPt - a;
            const double length = base::length(d);
            list.push_back({a,
                            d * (1 / length),
                            length,
                            start,
                            {e.normalFrom.x, e.normalFrom.y},
                            {e.normalTo.x, e.normalTo.y},
                            static_cast<std::uint16_t>(e.letter)});
            start += length;
        }
        const double whole = start, seam = list[list.size() - contour.size() + seamOf(contour)].start;
        for (std::size_t i = list.size() - contour.size(); i < list.size(); ++i)
            list[i].start += list[i].start < seam ? whole - seam : -seam;
    }
    return list;
}

Vec2 outwardAt(const std::vector<RimEdge>& rim, const RoofSheet& sheet, const RoofTriangle& t, int i, double& along)
{
    const RoofVertex& v = sheet.vertices[t.v[static_cast<std::size_t>(i)]];
    const RimEdge& edge = rim[static_cast<std::size_t>(t.site)];
    if (t.siteBefore < 0) {
        const double s = std::clamp(dot(v.p - edge.a, edge.along), 0.0, edge.length);
        along = edge.start + s;
        return normalized(lerp(edge.normalFrom, edge.normalTo, s / edge.length));
    }
    along = edge.start;
    const RimEdge& before = rim[static_cast<std::size_t>(t.siteBefore)];
    if (t.mitreSide == 2)
        return normalized(edge.normalFrom + before.normalTo);
    if (t.mitreSide != 0)
        return t.mitreSide > 0 ? edge.normalFrom : before.normalTo;
    // From the curve's normal after the corner to the one before it, as the direction from the corner turns.
    const Vec2 first{-edge.along.y, edge.along.x}, last{-before.along.y, before.along.x};
    const double wedge = std::atan2(cross(first, last), dot(first, last));
    Vec2 q = v.p - edge.a;
    if (length(q) <= 1e-9)  // the corner itself: the middle of the triangle tells which way
        q = (sheet.vertices[t.v[0]].p + sheet.vertices[t.v[1]].p + sheet.vertices[t.v[2]].p) * (1.0 / 3) - edge.a;
    const double f = wedge > 1e-9 ? std::clamp(std::atan2(cross(first, q), dot(first, q)) / wedge, 0.0, 1.0) : 0.5;
    return slerp(edge.normalFrom, before.normalTo, f);
}

}  // namespace solid
