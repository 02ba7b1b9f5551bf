// A black-and-white picture becomes outlines.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "outline/drawing.h"

namespace outline {

// Brightness of a picture, 0 black to 255 white, row by row from the top.
struct Greys {
    int width = 0, height = 0;
    std::vector<std::uint8_t> values;

    bool operator==(const Greys&) const = default;
};

// As a portable graymap (Netpbm "P5", 8 bits), and back. `name` is said in errors. Errors: BadInput for anything else.
std::string pgmOf(const Greys& greys);
base::Result<Greys> greysFromPgm(std::string_view bytes, const std::string& name);

struct TraceSettings {
    double threshold = 0.5;  // of white: what is darker becomes a shape
    bool inverse = false;    // what is lighter does
    double smoothness = 0.75;
    int specks = 4;  // areas of so many pixels or fewer are left out

    bool operator==(const TraceSettings&) const = default;
};

// The threshold that parts a picture's greys best: Otsu, "A threshold selection method from gray-level histograms", 1979.
double usualThreshold(const Greys& greys);

// One shape for each connected area with its holes, a pixel is a pt; small pictures are enlarged softly before, so that the greys of their
// edges say where the edge runs. Traced by potrace (Selinger 2003). More than kMostShapes: the largest, with a note. O(pixels).
Drawing traced(const Greys& greys, const TraceSettings& settings);

}  // namespace outline
