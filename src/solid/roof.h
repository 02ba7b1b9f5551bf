// The Voronoi roof: every point inside an outline knows its distance from the outline, and the plan of the outline is cut
// into triangles along chosen distances. A height for each distance makes a bevel of it that can never fold.
//
// The plan is the Voronoi diagram of the outline's edges (O. Aichholzer and others, A novel type of skeleton for polygons,
// 1995, for the roof; Boost.Polygon for the diagram): inside a cell the nearest edge or corner is the same, so the distance
// is linear or a cone there. Each Voronoi edge is split once at the levels and both its cells use that split, so the
// triangles match without a search.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <set>
#include <span>
#include <vector>

#include "base/result.h"
#include "base/vec.h"
#include "outline/outline.h"

namespace solid {

using base::Vec2;

struct RoofVertex {
    Vec2 p;               // pt, in the outline's coordinates
    double distance = 0;  // from the outline, pt
};

struct RoofTriangle {
    std::array<std::uint32_t, 3> v{};  // counter-clockwise in plan
    std::int32_t site = 0;             // edge of the outline (counted through its contours) it is nearest to, or for a corner
                                       // cell the edge that starts at the corner
    std::int32_t siteBefore = -1;      // for a corner cell the edge that ends at the corner, else -1
    std::int16_t band = 0;             // between levels band and band + 1; the last band has no upper level
    std::int8_t mitreSide = 0;         // mitred corner cells: 1 belongs to `site`, -1 to `siteBefore`; flat ones: 2, half to each
};

struct RoofSheet {
    std::vector<RoofVertex> vertices;  // the first roof.footCount() are the outline's own, in edge order
    std::vector<RoofTriangle> triangles;
};

class Roof {
public:
    // Errors: BadInput when the outline crosses itself. O(n log n) for n edges. `arcsFrom`: where the outline turns by more, radians,
    // levels become arcs round the point; where by less, one chord is enough.
    static constexpr double kArcsFrom = 0.0873;  // what is no joint of one curve: 5 degrees
    static base::Result<std::shared_ptr<const Roof>> make(const outline::Outline& outline, double arcsFrom = kArcsFrom);
    ~Roof();

    struct CutSettings {
        std::vector<double> levels;      // pt, rising, the first 0; the last one bounds the bevel
        bool mitred = false;             // inner corners: two planes to the bisector instead of a cone
        bool flat = false;               // or one plane across
        std::set<std::int32_t> rounded;  // edges whose starting corner is round all the same
        double tolerancePt = 0.05;       // how far arcs may be from their chords
    };
    // O(n levels). The sheet covers the outline's area exactly.
    RoofSheet cut(const CutSettings& settings) const;

    // The outline's edges as the roof numbers them: where edge i starts and ends, as indices into the first vertices.
    // Contours that touch in a point have a vertex each there.
    struct Foot {
        std::uint32_t start = 0, end = 0;
        Vec2 a, b;  // pt
    };
    std::span<const Foot> feet() const;

    // The largest distance inside, pt.
    double largestDistance() const;

private:
    struct Diagram;
    explicit Roof(std::unique_ptr<Diagram> diagram);
    friend class RoofCutter;
    friend class RoofBuilder;
    friend class CentreLineFinder;
    std::unique_ptr<Diagram> m_diagram;
};

}  // namespace solid
