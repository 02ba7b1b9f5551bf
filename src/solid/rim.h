// The rim of a body: the edges of its outline with what every form needs of them, lengths along it and which way is out.
#pragma once

#include <vector>

#include "outline/outline.h"
#include "solid/roof.h"

namespace solid {

struct RimEdge {
    Vec2 a, along;  // start and unit direction, pt
    double length = 0;
    double start = 0;  // arc length along its contour, from the place where a seam is seen least: its lowest corner, or its lowest point
    Vec2 normalFrom, normalTo;
    std::uint16_t letter = 0;
};

// In the order of the outline's contours, as the roof numbers them.
std::vector<RimEdge> rimOf(const outline::Outline& outline);

// Which way is out at corner `i` of a triangle of the outline's roof, as the ideal outline turns there: along a smooth curve with it, round
// a corner as the direction from it does. `along`: the arc length of the nearest place on the outline.
Vec2 outwardAt(const std::vector<RimEdge>& rim, const RoofSheet& sheet, const RoofTriangle& triangle, int i, double& along);

}  // namespace solid
