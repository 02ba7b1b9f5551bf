// Choosing what stands behind and below: floor and wall come to where the pieces are.
#pragma once

#include "work/cache.h"
#include "work/work.h"

namespace work {

// Below this a view shows a floor as little more than a line, degrees; and what it rises to then.
inline constexpr double kLeastRise = 6, kUsualRise = 12;

// Sets the ground's kind. A floor comes under the lowest line of letters, and what stood there against the wall stands on it; a wall comes
// behind everything, and what stood on the floor stands against it; in front of a sweep there is room for the bend. Pieces that stand free
// stay. Nothing is seen to jump but what the new ground asks for. O(letters).
// Returns whether the view rose, see riseOverFloor().
bool chooseGround(Work& work, render::GroundKind kind, Cache& cache);

// Raises a view that would show the floor as a line. Returns whether it did.
bool riseOverFloor(Work& work);

}  // namespace work
