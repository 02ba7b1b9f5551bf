// Triangles of a monotone polygon.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "base/vec.h"

namespace solid {

struct MonotonePoint {
    std::uint32_t id = 0;
    base::Vec2 p;
    double u = 0;  // sweep order; does not fall along a chain
};

// Cuts the polygon between two chains that share their first and their last point into triangles; `upper` has the inside on
// its left, `lower` on its right. Gives points - 2 triangles, counter-clockwise, for any input, so that no edge is ever lost;
// they do not overlap where the chains are monotone in u. Neighbours at the same place give an empty triangle. O(n). (Garey, Johnson,
// Preparata, Tarjan 1978.)
void triangulateMonotone(std::span<const MonotonePoint> upper, std::span<const MonotonePoint> lower,
                         std::vector<std::array<std::uint32_t, 3>>& triangles);

}  // namespace solid
