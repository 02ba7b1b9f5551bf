// The plan of a dome: an outline cut into triangles that are fine across its border, where a dome is steepest, and even further in.
//
// Near the border they are the roof's, in bands between rings; what the last ring encloses is a hexagonal lattice, tied to the ring by a
// constrained Delaunay triangulation (CGAL, Triangulation_2). No edge but the border's own has both its ends on the border, so a front and
// a back made of one plan touch there alone.
#pragma once

#include "base/progress.h"
#include "outline/outline.h"
#include "solid/roof.h"

namespace solid {

struct DomePlan {
    outline::Outline outline;  // with long edges split
    std::vector<Roof::Foot> feet;
    RoofSheet sheet;             // inside the last ring `distance` is the ring's, and `site` an edge near by
    double largestDistance = 0;  // pt
};

// Fine enough for a half round over the widest stroke to be at most `tolerancePt` (> 0) from its chords. Errors: BadInput for an outline
// that crosses itself, Stopped. O(n log n). No edge of the border is longer than `longestEdgePt`.
base::Result<DomePlan> planDome(const outline::Outline& outline, double tolerancePt, const base::Progress& progress,
                                double longestEdgePt = 1e300);

}  // namespace solid
