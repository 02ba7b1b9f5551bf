// The slab: an outline extruded to a depth, with bevels cut into its front and back.
#pragma once

#include "base/progress.h"
#include "outline/outline.h"
#include "solid/body.h"
#include "solid/form.h"

namespace solid {

// Makes the closed body of one outline. Bevels wider than the stroke end in a ridge (see roof.h); bevels that are together
// higher than the depth are lowered in proportion. Normals are those of the ideal surface: along a smooth curve they turn
// with it, at its corners and at the edges between parts they jump.
// `tolerancePt` (> 0): how far round corners may be from their chords.
// Errors: BadInput for an outline that crosses itself, Stopped. O(n log n + n levels) for n edges; runs on the calling thread.
base::Result<Body> makeSlab(const outline::Outline& outline, const SlabForm& form, double tolerancePt, const base::Progress& progress);

}  // namespace solid
