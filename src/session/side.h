// The work seen from the side and from above: outlines of letters, the ground, and what touches what.
#pragma once

#include <string>
#include <vector>

#include "session/gestures.h"

namespace session {

// Convex outline of one letter in two plans: from the side (z to the right, y up) and from above (x to the right, z up), pt.
struct SideOutline {
    std::string piece, letter;
    bool copy = false;  // of a linked copy
    std::vector<Vec2> side, above;
};
// O(n) for n vertices, with curves rounded to a 400th of a letter.
std::vector<SideOutline> sideOutlines(const work::WorkBodies& bodies);

// Where a piece meets the ground or another piece, by the boxes round them.
struct Contact {
    std::string piece, other;  // other: a piece, or "wall" or "floor"
    base::Box3 place;          // flat where they touch
    bool cutsIn = false;       // they overlap instead of touching
};
std::vector<Contact> contactsOf(const work::Work& work, const work::WorkBodies& bodies);

// Moves what is chosen in depth, and across or up, from the work at the beginning of the drag. The leading piece snaps within
// `reach` (pt; 0 does not) to the ground and to the fronts and backs of its neighbours. Off the wall or the floor it becomes free,
// back on them it stands there again.
MoveDrag::Step movedInDepth(const work::Work& start, const work::WorkBodies& bodies, const std::vector<MoveDrag::Item>& items, Vec3 by,
                            double reach);

}  // namespace session
