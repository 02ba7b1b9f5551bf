// From what a picture paints to the shapes of a drawing.
#pragma once

#include "outline/drawing.h"
#include "reader/painted.h"

namespace reader {

// `toPt` brings the picture's coordinates (y down) to pt; the page is as large as it says. Fills keep their curves where no clip cuts
// them; strokes and what is cut become polygons. `names` belong to what is painted, in its order; it may be empty. What lies wholly
// outside the page is left out. More than outline::kMostShapes become one shape a colour. Errors: TooLarge.
base::Result<outline::Drawing> drawingOf(Picture picture, double widthPt, double heightPt, double toPt,
                                         const std::vector<std::string>& names);

}  // namespace reader
