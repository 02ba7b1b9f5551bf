// Strokes as areas (SVG 1.1, 11.4: caps, joins, miter limit, dashes).
#pragma once

#include "reader/painted.h"

namespace reader {

using Polygon = std::vector<Vec2>;

// Corners of a path's subpaths, none further than `tolerance` from it and no turn over 4 degrees on a curve; `closed` tells which are.
struct Polyline {
    Polygon points;
    bool closed = false;
};
std::vector<Polyline> polylinesOf(const Path& path, double tolerance);

// Polygons whose non-zero union is the stroke. `tolerance` is that of round caps and joins. O(points).
std::vector<Polygon> strokeOf(const Path& path, const StrokeStyle& style, double tolerance);

}  // namespace reader
