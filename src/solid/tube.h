// The tube: a round tube, a rope or a ribbon along the centre lines of an outline's strokes or along the outline itself.
#pragma once

#include "base/progress.h"
#include "outline/outline.h"
#include "solid/body.h"
#include "solid/form.h"

namespace solid {

// Makes the closed body of one outline: a closed shell for each line. Lines lie in one plane; the lowest point is at z = liftPt. Shells may
// reach into each other where lines meet. `tolerancePt` (> 0): how far a round tube may be from its chords.
// Errors: BadInput for an outline that crosses itself, Stopped. O(n log n).
base::Result<Body> makeTube(const outline::Outline& outline, const TubeForm& form, double tolerancePt, const base::Progress& progress);

}  // namespace solid
