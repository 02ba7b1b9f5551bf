// The sides of a body, between the rims of its front and its back.
#pragma once

#include <span>

#include "solid/body.h"
#include "solid/rim.h"

namespace solid {

struct Sides {
    std::span<const Roof::Foot> feet;
    const std::vector<RimEdge>& rim;
    std::span<const std::uint32_t> backIds, frontIds;  // of the feet's vertices, in the body
    double back = 0, front = 0;                        // their heights
    int slices = 1;                                    // rings of quads, >= 1
};
void addSides(Body& body, const Sides& sides);

// An outline whose edges are at most `longestPt` long: longer ones become several of one length. A roof needs a turn at every point that
// is not lost in its rounding: new ones that lie in a straight line with their neighbours are moved outwards, by less than a pixel of
// any sheet.
outline::Outline withShortEdges(const outline::Outline& outline, double longestPt);

}  // namespace solid
