// Centre lines of an outline's strokes.
#pragma once

#include <vector>

#include "outline/outline.h"
#include "solid/roof.h"

namespace solid {

// A line of points, in pt.
struct CentreLine {
    struct Point {
        Vec2 p;
        double distance = 0;  // to the outline
        std::uint16_t letter = 0;
    };
    // Where it goes through another line, or through itself.
    struct Crossing {
        std::size_t point = 0;  // of `points`
        int place = 0;          // the same for both that meet there
        double sine = 1;        // of the angle between them
    };
    std::vector<Point> points;  // of a closed one the last is not the first again
    std::vector<Crossing> crossings;
    bool closed = false;
    // It ends at another line: where a stroke meets one that goes on.
    bool meetsAtStart = false, meetsAtEnd = false;
};

// The medial axis without what leads into corners: a branch stays where it reaches out of the largest disc at its foot by more than half
// that disc's radius. (D. Attali and others, Stability and computation of medial axes, 2009, on what such pruning keeps.) Where branches
// meet, the two that go on most nearly straight are one line, the others end there; two strokes that cross at a slant, where the axis has a
// bridge between two meetings of three, are two lines through one place. What is as broad as long becomes a single point.
// Errors: BadInput for an outline that crosses itself. O(n log n).
base::Result<std::vector<CentreLine>> centreLines(const outline::Outline& outline);

// How wide the narrowest stroke or neck is, pt. What runs out to a point is measured where it begins to. Errors as centreLines().
base::Result<double> thinnestStroke(const outline::Outline& outline);

}  // namespace solid
