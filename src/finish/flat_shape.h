// Flat shapes as coverage.
#pragma once

#include "finish/graph.h"
#include "finish/layers.h"

namespace finish {

// How much of each pixel of an area a shape covers, one channel, 0 to 1: the exact area of its edges, whose ends lie on a grid of 1/4096 px
// and whose crossings with rows and columns are rounded to it; in whole numbers, so that parts of a picture equal the whole.
// A pixel (x, y) of a shape's place (u, v) is (originX + u * scale, originY - v * scale). O(edges + pixels they cross).
Image coverageOf(const FlatShape& shape, const Area& area, double originX, double originY, double scale);

}  // namespace finish
