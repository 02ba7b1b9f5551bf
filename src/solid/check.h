// What can be said of a body: is it closed, how large is it.
#pragma once

#include "solid/body.h"
#include "solid/roof.h"

namespace solid {

struct BodyReport {
    std::size_t unpairedEdges = 0;  // directed edges without exactly one opposite twin
    std::size_t repeatedEdges = 0;  // directed edges used twice
    int euler = 0;                  // V - E + F
    double volumePt3 = 0;           // signed: positive when the triangles face outwards
    double foldedAreaPt2 = 0;       // plan area of front triangles that face backwards and of back ones that face forwards
    base::Box3 bounds;

    bool closed() const { return unpairedEdges == 0 && repeatedEdges == 0; }
};

// O(n log n) for n triangles.
// Whether every directed edge has its opposite: by a sum of hashes, which is wrong once in 2^64. O(n), no memory.
bool isClosed(const Body& body);

BodyReport inspect(const Body& body);

double volume(const Body& body);  // pt3, O(n)
base::Box3 bounds(const Body& body);
double areaOf(const Body& body, Part part);  // pt2, O(n)

}  // namespace solid
