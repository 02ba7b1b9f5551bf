// Shapes of our own as curves: boards, plates, dots, and what is drawn with the pen.
#pragma once

#include "outline/drawing.h"
#include "work/work.h"

namespace work {

// The points of a line in its order.
std::vector<LinePoint> pointsOf(const DrawnLine& line);

// The shape as contours round (0, 0), pt, y up. An open line becomes its stroke, with round ends. Corners are
// rounded as far as the sides allow. Nothing for a line of less than two points. O(points).
outline::DrawnShape curvesOf(const Shape& shape);
// The same on a square page round it, whose middle is (0, 0).
outline::Drawing drawingOf(const Shape& shape);

}  // namespace work
