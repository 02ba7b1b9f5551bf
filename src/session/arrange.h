// Pieces in line with each other, with the sheet, at equal gaps, as large as each other.
#pragma once

#include "work/bodies.h"

namespace session {

enum class Edge { Left, MiddleAcross, Right, Upper, MiddleUp, Lower };
enum class AlignTo { EachOther, Sheet, Margin };
// Where a piece ends: where it is seen to, or lettering at its last baseline, its capitals' height and its letters' advances.
enum class AlignBy { Outline, TypeLines };

// All of these start from the boxes of the bodies as they are seen square on; what is moved takes the pieces of a group as one thing.
// Pieces that show nothing, are locked, or stand on the floor where they would move up, stay. O(pieces).

// Brings an edge or the middle to the outermost of them, or to that of the sheet. One thing alone goes to the sheet.
work::Work aligned(const work::Work& start, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, Edge edge, AlignTo to,
                   AlignBy by = AlignBy::Outline);
// The same gap between neighbours; the outer ones stay. Needs three.
work::Work distributed(const work::Work& start, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, bool across,
                       AlignBy by = AlignBy::Outline);
// As wide, or as high, as the last of the pieces: type, depth and bevels grow with it.
work::Work sameSize(const work::Work& start, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, bool width);

// One behind the other, in their order: each a step further from the viewer than the one before; the last stays where it is. What stood
// against the wall becomes free, what stands on the floor moves over it; locked pieces stay.
work::Work staggered(const work::Work& start, const std::vector<std::string>& pieces, double stepPt);

}  // namespace session
