// Pieces that cut into each other.
#pragma once

#include "work/bodies.h"

namespace work {

// Pairs of pieces whose bodies share room, deeper than kTouchPt; linked copies count as their piece, and do not clash with it. What only
// stands on the other does not count, nor what stands on one plane with it: the deeper one looks like lying on the other. Of very many and
// fine bodies the last pairs are left untried. O(n log n) for bodies apart.
inline constexpr double kTouchPt = 0.02;
std::vector<Clash> clashesOf(const Work& work, const WorkBodies& bodies);

// "clash", placed at the piece that comes first.
base::Notes clashNotes(const Work& work, const std::vector<Clash>& clashes);

// The piece moved the shortest way out of all that it clashes with: to a side, up or down, or towards the viewer (then it stands free).
// Boxes are parted, so that nothing touches.
Work parted(Work work, const WorkBodies& bodies, const std::string& piece);

}  // namespace work
