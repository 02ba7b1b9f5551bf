// A line measured along its length, and lettering set along it.
#pragma once

#include <vector>

#include "outline/curve.h"
#include "outline/layout.h"

namespace outline {

// A point of a line drawn by hand, with the handles of its curves as seen from it; without one a side is straight.
struct LinePoint {
    double x = 0, y = 0;
    double inX = 0, inY = 0;    // towards the point before
    double outX = 0, outY = 0;  // towards the next

    bool operator==(const LinePoint&) const = default;
};
// One curve from each point to the next, and back to the first for a closed line.
CurveContour curvesThrough(const std::vector<LinePoint>& points, bool closed);

// A line of curves by its length. Lengths are integrated by Simpson's rule over 64 pieces a curve: within 1e-6 of it for what is drawn
// by hand.
class Route {
public:
    Route() = default;
    Route(const CurveContour& curves, bool closed);

    double length() const { return m_samples.empty() ? 0 : m_samples.back().s; }
    bool isClosed() const { return m_closed; }
    struct Place {
        Vec2 point, along;  // along: of length 1
    };
    // At a length from the start: round and round on a closed line, straight on beyond the ends of an open one. O(log n).
    Place at(double s) const;
    // Beside it, to the left by so much. Where it turns more sharply than that it stands still.
    Route beside(double distance) const;
    // From its end to its start.
    Route backwards() const;
    // A closed line that runs clockwise, with its highest place at half its length.
    Route fromBelow() const;

private:
    struct Sample {
        Vec2 point, along;
        double s = 0;
    };
    std::vector<Sample> m_samples;
    bool m_closed = false;
};

// Part of an ellipse as cubic curves, from one angle to another, degrees counter-clockwise from the right; each spans 15 degrees or less,
// which is within 1e-8 of a circle's radius (error of the usual approximation, M. Goldapp, CAGD 8, 1991).
CurveContour ellipseArc(Vec2 middle, double radiusX, double radiusY, double fromDegrees, double toDegrees);
// An Archimedean spiral that ends on its outer radius, at the top; it runs outwards, clockwise.
CurveContour spiral(double innerRadius, double outerRadius, double turns);

struct AlongSettings {
    double start = 0;      // shifted along the line, pt
    bool under = false;    // hangs below the line instead of standing on it
    bool upright = false;  // letters do not turn with the line
    bool fill = false;     // spaced out over the whole line
    double capHeight = 0;  // pt, of what hangs
};
// Sets lines of lettering along a route: each letter with the middle of its advance on the line. Several lines run beside each other; the
// last one stands on the route, or the first hangs from it. The alignment says which end of the route they begin at. Notes: "too-long"
// where a line is longer than its route. O(letters log n).
void setAlong(Layout& layout, const Route& route, const AlongSettings& settings);

}  // namespace outline
