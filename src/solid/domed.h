// The domed form: an outline swollen like a cushion.
#pragma once

#include "base/progress.h"
#include "outline/outline.h"
#include "solid/body.h"
#include "solid/form.h"

namespace solid {

// Makes the closed body of one outline; the lowest point of its back is at z = 0. Normals are those of the smooth height, on the border
// those of the ideal outline. Front and back meet at the border alone.
// `tolerancePt` (> 0): how far a half round may be from its chords.
// Errors: BadInput for an outline that crosses itself, Stopped. O(n^1.5) for n vertices; runs on the calling thread.
base::Result<Body> makeDomed(const outline::Outline& outline, const DomedForm& form, double tolerancePt, const base::Progress& progress);

}  // namespace solid
