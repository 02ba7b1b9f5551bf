// Bezier curves and how they become edges that still know their curve.
#pragma once

#include <vector>

#include "base/vec.h"

namespace outline {

using base::Vec2;

// A line (degree 1), quadratic (2) or cubic (3) Bezier curve; p[0] to p[degree] are its control points.
struct Curve {
    int degree = 1;
    Vec2 p[4];

    bool operator==(const Curve&) const = default;
};

using CurveContour = std::vector<Curve>;  // closed; each curve starts where the one before it ends

// A straight piece of a flattened curve with the curve's own directions at its two ends (unit vectors).
struct FlatEdge {
    Vec2 from, to;
    Vec2 tangentFrom, tangentTo;
};

// Point of the curve at t in [0, 1].
Vec2 pointAt(const Curve& curve, double t);

// Unit direction at t; for a curve that stands still there, the nearest direction it has. (0, 0) for a point.
Vec2 tangentAt(const Curve& curve, double t);

// Edges that stay within `tolerance` (same unit as the points, > 0) of the curve and turn by at most 20 degrees each.
// The number of steps follows Wang's bound, error <= max|B''| / (8 n^2) (R. Goldman, Pyramid Algorithms, 2003, 5.6).
// O(edges). Appends to `edges`; pieces without length are left out.
void flatten(const Curve& curve, double tolerance, std::vector<FlatEdge>& edges);

}  // namespace outline
