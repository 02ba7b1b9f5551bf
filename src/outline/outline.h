// Outlines: closed contours on an integer grid that still know their letters and the directions of their curves.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/progress.h"
#include "base/result.h"
#include "base/vec.h"
#include "outline/bend.h"
#include "outline/drawing.h"
#include "outline/layout.h"

namespace outline {

struct GridPoint {
    std::int32_t x = 0, y = 0;

    bool operator==(const GridPoint&) const = default;
};

// An edge runs from its own point to the next edge's point, the inside on its left.
struct Edge {
    GridPoint from;
    base::V2<float> normalFrom, normalTo;  // unit outward normals of the source curve at the two ends
    std::int32_t letter = 0;               // index into the letters of the placed outline

    bool operator==(const Edge&) const = default;
};
using Contour = std::vector<Edge>;  // closed, at least three edges

// One connected area: the outer contour first, counter-clockwise, then its holes, clockwise. Contours touch in
// points at most, which are corners of both; other corners never lie exactly between their neighbours.
struct Outline {
    double unitPt = 1;  // length of a grid step
    std::vector<Contour> contours;

    bool operator==(const Outline&) const = default;
};

struct PlacedOutline {
    std::shared_ptr<const Outline> outline;
    base::Vec2 originPt;       // where the grid's (0, 0) lies
    std::vector<int> letters;  // grapheme indices in the text
    double turn = 0;           // about that point, radians counter-clockwise

    base::Vec2 at(GridPoint p) const;  // pt
};

struct Outlined {
    std::vector<PlacedOutline> outlines;  // by their letters, in text order
    // "no-outline": a letter that is only a picture in its font; "thinned-away": one that was thinner than it was thinned.
    base::Notes notes;
};

// Enclosed area in pt2 and bounds in pt (relative to the outline's origin).
double area(const Outline& outline);
base::Box2 bounds(const Outline& outline);
base::Box2 bounds(const PlacedOutline& placed);  // where it lies
base::Box2 bounds(const Outlined& outlined);
std::size_t edgeCount(const Outline& outline);

// Unites the glyphs of a layout (non-zero rule) and splits the result into connected outlines. Curves become edges within
// the tolerance. One em is a million grid steps, fewer only for very long lines. Equal glyphs that touch no other share
// one Outline, turned ones too. With `bend`, whose rectangles lie in the layout's plane, every letter is bent by itself. Errors: Stopped.
// O(n log n) for n edges; touching letters are found by sorted bounds.
struct OutlineSettings {
    double sizePt = 120;       // of the em
    double tolerancePt = 0.1;  // > 0
    // Outlines grown outwards by, with round corners, one step after the other; negative: thinned.
    std::vector<double> growthsPt = {};

    bool operator==(const OutlineSettings&) const = default;
};
base::Result<Outlined> outlineLayout(const Layout& layout, const std::string& text, const Faces& faces, const OutlineSettings& settings,
                                     const base::Progress& progress, const Bend* bend = nullptr);

// The shapes of a drawing, one by one and each without what lies over it: together they cover what is painted, and nothing twice.
// `letters` are the places of the shapes in the drawing; the page's middle is at (0, 0), and it is `settings.sizePt` high. What is grown or
// thinned is so after that. Errors: Stopped. O(n log n) for n edges, and the shapes that overlap.
base::Result<Outlined> outlineDrawing(const Drawing& drawing, const OutlineSettings& settings, const base::Progress& progress);

}  // namespace outline
