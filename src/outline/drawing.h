// A drawing: filled shapes as they lie over each other, read from artwork; and its text, an SVG of nothing but paths.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "outline/curve.h"

namespace outline {

// Points are pt, y up, (0, 0) the lower left corner of the page.
struct DrawnShape {
    std::string id;            // "s1", unique in the drawing; not empty
    std::string name;          // as the artwork calls it, or ""
    std::uint32_t colour = 0;  // 0xRRGGBB, sRGB
    bool evenOdd = false;      // else the non-zero rule
    std::vector<CurveContour> contours;

    bool operator==(const DrawnShape&) const = default;
};

struct Drawing {
    double widthPt = 0, heightPt = 0;  // of the page, > 0
    std::vector<DrawnShape> shapes;    // from the lowest to the topmost
    base::Notes notes;                 // what was left out or approximated, by name with a count

    bool operator==(const Drawing&) const = default;
};

// What a drawing may have; readers refuse or reduce what is more.
inline constexpr std::size_t kMostShapes = 5000, kMostCurves = 2'000'000;

// An SVG 1.1 document in pt: one path a shape, with its id, name (as title), fill and fill rule; notes as metadata. Numbers have what a
// double needs to come back the same. O(curves).
std::string svgOf(const Drawing& drawing);

// Reads such a text. `name` is said in errors. Errors: BadInput for anything else, TooLarge.
base::Result<Drawing> drawingFromSvg(std::string_view text, const std::string& name);

// Text between tags and in attributes.
std::string escapedXml(std::string_view text);

// SVG path data (SVG 1.1, 8.3.9: absolute M, L, Q, C and Z), y down; both ways. Reading appends; false for anything else.
void appendPathData(std::string& text, const std::vector<CurveContour>& contours, double heightPt);
bool readPathData(std::string_view text, double heightPt, std::vector<CurveContour>& contours);

}  // namespace outline
