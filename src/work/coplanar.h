// Faces in one plane: which one is seen.
#pragma once

#include "work/bodies.h"

namespace work {

// Where the front faces of different pieces or copies lie in one plane and over each other, rays would meet now the one, now the other.
// The rule: what comes first in the order of pieces is in front, a piece before its copies, a copy before the next. What is behind moves
// back by kBehindPt a step. Adds a note ("coplanar") for each pair of pieces, and one for a piece with its own copies. O(n log n) for n
// bodies that do not overlap much.
inline constexpr double kBehindPt = 0.004;
void orderCoplanar(const Work& work, WorkBodies& bodies);

}  // namespace work
