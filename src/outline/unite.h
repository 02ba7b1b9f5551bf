// Inside of the outline stage: flattened shapes on the grid, united.
#pragma once

#include <cstdint>
#include <vector>

#include "outline/outline.h"

namespace outline {

struct GridEdge {
    std::int64_t fromX = 0, fromY = 0, toX = 0, toY = 0;
    Vec2 normalFrom, normalTo;  // to the right of the edge
    int letter = 0;
};
using GridShape = std::vector<std::vector<GridEdge>>;  // closed contours in any orientation, overlapping at will

// Unites the shape with the non-zero rule, cleans it to steps of the grid and splits it into connected outlines whose
// coordinates are relative to `offsets[i]`, the low corner of outline i.
struct United {
    std::vector<Outline> outlines;
    std::vector<std::vector<int>> letters;  // for each outline; Edge::letter indexes it
    std::vector<base::V2<std::int64_t>> offsets;
};
United unite(const GridShape& shape, double unitPt);

// The same of a shape that is filled by either rule, without the areas of others.
struct Area {
    GridShape shape;
    bool evenOdd = false;
};
United without(const Area& area, const std::vector<const Area*>& others, double unitPt);
// Areas united with others, without them, or where they overlap.
enum class How;
United combined(const Area& area, const std::vector<const Area*>& others, How how, double unitPt);

// What was united as a shape again, where it lay; edges have the normals of their letter 0.
GridShape shapeOf(const United& united);

// The shape, united and grown outwards by `steps` of the grid: every point within that distance of it. With negative steps it is
// thinned: every point further than that from what is outside; it may vanish. New corners become arcs within `tolerance` steps of a
// circle. A normal points away from the nearest place of the old outline (thinned: towards it), which is exact for this offset.
// O(n k) for n edges, k of them near each other.
GridShape grown(const GridShape& shape, double steps, double tolerance);

}  // namespace outline
