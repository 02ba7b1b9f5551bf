// A block: an outline whose sides run back to a point or in a direction.
#pragma once

#include "base/progress.h"
#include "outline/outline.h"
#include "solid/body.h"
#include "solid/form.h"

namespace solid {

// Every cross-section is the outline moved towards the point by its share of the way, and smaller by that share; or moved alone. A flat
// block is as deep as kFlatBlock of its longest way. Errors as makeSlab().
inline constexpr double kFlatBlock = 0.005;
base::Result<Body> makeBlock(const outline::Outline& outline, const BlockForm& form, double tolerancePt, const base::Progress& progress);

}  // namespace solid
