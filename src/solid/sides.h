// The sides of a body, between the rims of its front and its back.
#pragma once

#include <span>

#include "solid/body.h"
#include "solid/rim.h"

namespace solid {

// An edge that an upright wall stands on, the body on its left. Its ends are counted among the wall's vertices.
struct WallEdge {
    std::uint32_t start = 0, end = 0;
    Vec2 normalFrom, normalTo;     // outwards
    double along = 0, length = 0;  // where it begins on its contour, pt
    std::uint16_t letter = 0;
};
std::vector<WallEdge> wallEdges(std::span<const Roof::Foot> feet, const std::vector<RimEdge>& rim);

struct Wall {
    std::span<const WallEdge> edges;
    std::span<const std::uint32_t> backIds, frontIds;  // of the wall's vertices, in the body
    double back = 0, front = 0;                        // their heights
    int slices = 1;                                    // rings of quads, >= 1
    Part part = Part::Side;
};
void addWall(Body& body, const Wall& wall);

// An outline whose edges are at most `longestPt` long: longer ones become several of one length. A roof needs a turn at every point that
// is not lost in its rounding: new ones that lie in a straight line with their neighbours are moved outwards, by less than a pixel of
// any sheet.
outline::Outline withShortEdges(const outline::Outline& outline, double longestPt);

}  // namespace solid
