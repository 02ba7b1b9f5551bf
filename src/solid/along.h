// Along the depth: a finished body is twisted, tapered, leaned and bent from its front to its back.
#pragma once

#include "outline/outline.h"
#include "solid/body.h"
#include "solid/form.h"

namespace solid {

// How fine a body must be for it: rings of its sides, and the longest edge of its outline, pt.
struct AlongSteps {
    int slices = 1;
    double longestEdgePt = 1e300;
};
AlongSteps stepsFor(const Along& along, const outline::Outline& outline, double tolerancePt);

// The front's highest points stay where they are, everything else goes with its share of the depth: each cross-section is turned, sized
// and moved, and the axis bent, in this order. Normals go through the inverse transpose of the Jacobian (A. Barr, Global and local
// deformations of solid primitives, SIGGRAPH 1984). Lowest point at z = 0. O(n).
void deform(Body& body, const Along& along, Vec2 about);

}  // namespace solid
