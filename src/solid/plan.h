// The plan of a slab: its outline's area and, where it is grown, what lies round it, cut along chosen distances from the rim of all that.
#pragma once

#include <span>
#include <vector>

#include "outline/outline.h"
#include "solid/form.h"
#include "solid/rim.h"
#include "solid/roof.h"

namespace solid {

struct Plan {
    std::vector<double> rungs;       // the distances it is cut along, rising, the first 0
    RoofSheet sheet;                 // distances are from the rim; bands count rungs; sites are edges of the outline
    std::vector<int> rungOf;         // of each vertex; -1 between rungs
    std::size_t around = 0;          // triangles from here on lie round the outline, those before inside
    std::size_t roundedCorners = 0;  // that would have folded otherwise

    bool isGrown() const { return around < sheet.triangles.size(); }
};

class Planner {
public:
    // `grownPt` >= 0. Errors as Roof::make(). O(n log n).
    static base::Result<Planner> make(const outline::Outline& outline, double grownPt);

    // Rungs are pt from the rim of what is grown; one is `grownPt`, the outline itself. The plan covers everything, without folds: what
    // would fold is rounded. O(n rungs).
    Plan cut(const std::vector<double>& rungs, Corners corners, double tolerancePt) const;

    // Which way is out at a triangle's corner, and where on the outline that is; see rim.h.
    Vec2 outwardAt(const Plan& plan, std::size_t triangle, int i, double& along) const;
    std::uint16_t letterOf(const Plan& plan, std::size_t triangle) const;
    const std::vector<RimEdge>& rim() const { return m_rim; }
    std::span<const Roof::Foot> feet() const { return m_inner->feet(); }

private:
    std::shared_ptr<const Roof> m_inner, m_outer;
    std::vector<RimEdge> m_rim, m_outerRim;  // the outer one runs the other way round
    std::vector<double> m_outerEnd;          // where its edges begin, on the outline
    double m_grown = 0;
};

}  // namespace solid
