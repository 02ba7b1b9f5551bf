// Inside of the roof: the Voronoi diagram of an outline, reduced to its inner cells.
#pragma once

#include <cstdint>
#include <vector>

#include "solid/roof.h"

namespace solid {

// All coordinates are in grid steps here.
struct Roof::Diagram {
    // An inner Voronoi edge. d(s)^2 or d(s) along it follows from what it lies between.
    enum class Kind : std::uint8_t {
        Linear,    // between two edges, or an edge and its own end: the distance is linear
        Points,    // between two corners: straight, distance sqrt(s^2 + h^2)
        Parabola,  // between an edge and a corner: distance (s^2 + h^2) / 2h
    };
    struct VoronoiEdge {
        std::uint32_t v0 = 0, v1 = 0;  // vertices; those below feet.size() are outline points
        Kind kind = Kind::Linear;
        Vec2 focus;             // Points: the middle of both; Parabola: the corner
        Vec2 along;             // unit direction in which s is measured
        Vec2 up;                // Parabola: unit direction from the line to the corner
        bool atCorner = false;  // a place that levels become arcs round is one of the two
        double h = 0;           // Points: half their distance; Parabola: distance of the corner from the edge's line
    };
    // The part of a Voronoi cell inside the outline, bounded by the site and a chain of Voronoi edges round it,
    // counter-clockwise. For an edge cell the chain leads from the edge's end to its start.
    struct Link {
        std::uint32_t edge = 0;
        bool forward = true;
    };
    struct Cell {
        std::int32_t site = 0;
        std::int32_t siteBefore = -1;  // >= 0: corner cell between siteBefore (ends here) and site (starts here)
        std::vector<Link> chain;
    };
    struct Vertex {
        Vec2 p;
        double distance = 0;
    };

    double unitPt = 1;
    std::vector<Vertex> vertices;
    std::vector<Foot> feet;
    std::vector<bool> cornerBefore;  // edge i starts at a true corner, not at a joint of one curve
    std::vector<bool> arcBefore;     // levels become arcs round its start
    std::vector<VoronoiEdge> edges;
    std::vector<Cell> cells;
    double largestDistance = 0;  // grid steps
};

}  // namespace solid
