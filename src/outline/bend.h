// Lettering bent between two lines: a top and a bottom line take the places of the capitals' height and the last baseline.
#pragma once

#include <algorithm>
#include <vector>

#include "base/vec.h"
#include "outline/route.h"

namespace outline {

// Maps a rectangle of the plane: its lower edge onto one line, its upper edge onto another, straight between them. Across it goes by the
// lines' lengths, so that letters keep even widths. What lies over or under the rectangle goes straight on.
class Between {
public:
    // `box` has an area. The lines are given in shares of it: (0, 0) is its lower left corner, (1, 1) its upper right one.
    Between(base::Box2 box, const std::vector<LinePoint>& top, const std::vector<LinePoint>& bottom);

    Vec2 apply(Vec2 point) const;
    // Where a direction at a point goes; not of length 1.
    Vec2 turn(Vec2 point, Vec2 direction) const;

private:
    base::Box2 m_box;
    Route m_top, m_bottom;  // pt
};

// One for all lines of text, or one for each.
struct Bend {
    std::vector<Between> lines;

    const Between& of(int line) const { return lines[std::min(static_cast<std::size_t>(line), lines.size() - 1)]; }
};

// Edges of a bent curve that stay within `tolerance` of it and turn by at most 20 degrees each. Appends.
void flattenBent(const Curve& curve, const Between& between, double tolerance, std::vector<FlatEdge>& edges);

// Lines to begin with. The amount is in heights of the lettering; negative the other way round.
enum class LineStart { Hill, Valley, Bridge, Barrel, Waist, Swell, Pennant, Fan, Road };
struct TwoLines {
    std::vector<LinePoint> top, bottom;  // in shares of the lettering's box
};
TwoLines linesOf(LineStart start, double amount);
// Drawn lines, brought nearer to the straight ones: 1 as they are, 0 straight.
TwoLines faded(TwoLines lines, double amount);

}  // namespace outline
