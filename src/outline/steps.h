// What is done to outlines where they lie in a plane: combined with others, rounded, pushed, mirrored, cut apart.
#pragma once

#include <memory>
#include <variant>
#include <vector>

#include "outline/outline.h"

namespace outline {

enum class How { Unite, Subtract, Intersect };

// With outlines of something else in the same plane; what is won of it belongs to the letter it touches.
struct CombineWith {
    How how = How::Unite;
    std::shared_ptr<const Outlined> other;
};
struct GrowBy {
    double pt = 0;
};
// Corners become arcs of a radius, as far as half the way to the next corner; curves stay as they are.
struct RoundBy {
    double radiusPt = 0;
};
// Everything within a radius goes along, less and less outwards: by (1 - (d / r)^2)^2.
struct PushBy {
    Vec2 at, by;
    double radiusPt = 0;
};
struct MirrorAt {
    bool across = true;  // left and right change places; else top and bottom
    double atPt = 0;     // of the axis
};
using Operation = std::variant<CombineWith, GrowBy, RoundBy, PushBy, MirrorAt>;

// The outlines after an operation, united again; letters stay those of the edges. Bent edges stay within `tolerancePt` of their curves.
// Equal outlines are no longer shared. O(n log n) for n edges.
Outlined applied(const Outlined& outlined, const Operation& operation, double tolerancePt);

// Cut along a line: what lies on its left or is not touched, and what lies on its right. Where it does not go through, it leaves a slit.
// `gapPt`: how wide the cut is; a cut without a gap is a hair's breadth of the grid.
struct Halves {
    Outlined left, right;
    bool touched = false;  // by the line at all
};
Halves cutAlong(const Outlined& outlined, const std::vector<Vec2>& line, double gapPt);

}  // namespace outline
