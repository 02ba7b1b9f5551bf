#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "solid/roof_diagram.h"
#include "solid/triangulate.h"

namespace solid {

namespace {

constexpr double kOnLevel = 0.25;  // grid steps: a vertex this near a level is on it
constexpr double kSamePlace = 1;   // grid steps
constexpr int kMostSamples = 64;   // of one curved edge
constexpr double kLargestArcStep = base::kPi / 12, kSmallestArcStep = base::kPi / 180;
constexpr double kLongestMitre = 4;                // times the distance; beyond that an inner corner is rounded
constexpr double kWidestFlat = base::kPi * 2 / 3;  // beyond that one plane across would all but reach the corner

}  // namespace

// Cuts the cells of a diagram at the levels. A vertex's rank is 2k on level k and 2k + 1 between levels k and k + 1; all
// decisions compare ranks, so that rounding can never contradict itself.
class RoofCutter {
public:
    using D = Roof::Diagram;

    RoofCutter(const D& diagram, const Roof::CutSettings& settings)
        : m_d(diagram), m_settings(settings), m_tolerance(settings.tolerancePt / diagram.unitPt)
    {
        for (const double level : settings.levels)
            m_levels.push_back(level / diagram.unitPt);
        m_last = static_cast<int>(m_levels.size()) - 1;
        m_arcStep = std::min(kLargestArcStep, 2 * std::acos(std::max(0.0, 1 - m_tolerance / std::max(m_levels.back(), 1e-9))));
        m_arcStep = std::max(m_arcStep, kSmallestArcStep);
    }

    RoofSheet run()
    {
        for (std::size_t i = 0; i < m_d.vertices.size(); ++i)
            addVertex(m_d.vertices[i].p, m_d.vertices[i].distance, i < m_d.feet.size() ? 0 : rankOf(m_d.vertices[i].distance));
        for (const D::VoronoiEdge& edge : m_d.edges)
            splitEdge(edge);
        m_splitEnd.push_back(static_cast<std::uint32_t>(m_splits.size()));
        for (const D::Cell& cell : m_d.cells)
            cutCell(cell);
        for (RoofVertex& v : m_sheet.vertices) {
            v.p = v.p * m_d.unitPt;
            v.distance *= m_d.unitPt;
        }
        return std::move(m_sheet);
    }

private:
    struct Point : MonotonePoint {
        int rank = 0;
        bool mitre = false;
    };
    using Points = std::vector<Point>;

    int rankOf(double distance) const
    {
        const auto above = std::upper_bound(m_levels.begin() + 1, m_levels.end(), distance + kOnLevel);
        const int k = static_cast<int>(above - m_levels.begin()) - 1;  // the highest level at or below
        return k > 0 && distance <= m_levels[k] + kOnLevel ? 2 * k : 2 * k + 1;
    }

    std::uint32_t addVertex(Vec2 p, double distance, int rank)
    {
        if (rank % 2 == 0)
            distance = m_levels[rank / 2];
        m_sheet.vertices.push_back({p, distance});
        m_ranks.push_back(rank);
        return static_cast<std::uint32_t>(m_sheet.vertices.size() - 1);
    }

    // --- Voronoi edges -------------------------------------------------------------------------------------------------

    void splitEdge(const D::VoronoiEdge& edge)
    {
        m_splitEnd.push_back(static_cast<std::uint32_t>(m_splits.size()));
        if (edge.kind == D::Kind::Linear) {
            splitLinear(edge);
            return;
        }
        const double s0 = dot(m_d.vertices[edge.v0].p - edge.focus, edge.along);
        const double s1 = dot(m_d.vertices[edge.v1].p - edge.focus, edge.along);
        const int r0 = m_ranks[edge.v0], r1 = m_ranks[edge.v1];
        if (s0 * s1 >= 0) {
            splitRising(edge, s0, r0, s1, r1);
            return;
        }
        // The nearest place lies inside: split there, so that each half only rises.
        const double least = distanceAt(edge, 0);
        const int rank = std::min({rankOf(least), r0, r1});
        if (isPlain(edge, rank))
            return;
        splitRising(edge, s0, r0, 0, rank);
        m_splits.push_back(addVertex(pointAt(edge, 0), least, rank));
        splitRising(edge, 0, rank, s1, r1);
    }

    void splitLinear(const D::VoronoiEdge& edge)
    {
        const D::Vertex &a = m_d.vertices[edge.v0], &b = m_d.vertices[edge.v1];
        forEachLevelBetween(m_ranks[edge.v0], m_ranks[edge.v1], [&](int k) {
            const double t = std::clamp((m_levels[k] - a.distance) / (b.distance - a.distance), 0.0, 1.0);
            m_splits.push_back(addVertex(lerp(a.p, b.p, t), m_levels[k], 2 * k));
        });
    }

    template <class F>
    void forEachLevelBetween(int from, int to, F visit) const
    {
        if (from < to)
            for (int k = from / 2 + 1; 2 * k < to; ++k)
                visit(k);
        else
            for (int k = (from - 1) / 2; k >= 0 && 2 * k > to; --k)
                visit(k);
    }

    static double distanceAt(const D::VoronoiEdge& e, double s)
    {
        return e.kind == D::Kind::Points ? std::hypot(s, e.h) : (s * s + e.h * e.h) / (2 * e.h);
    }
    static Vec2 pointAt(const D::VoronoiEdge& e, double s)
    {
        return e.kind == D::Kind::Points ? e.focus + e.along * s : e.focus + e.along * s + e.up * (distanceAt(e, s) - e.h);
    }
    static double placeOf(const D::VoronoiEdge& e, double distance)  // |s| where the edge has that distance
    {
        const double square = e.kind == D::Kind::Points ? distance * distance - e.h * e.h : 2 * e.h * distance - e.h * e.h;
        return std::sqrt(std::max(0.0, square));
    }

    // Nothing of the edge matters but its ends: it lies in the flat face and bounds no round corner.
    bool isPlain(const D::VoronoiEdge& edge, int lowestRank) const { return lowestRank >= 2 * m_last && (!edge.atCorner || m_last == 0); }

    // Levels and samples of a stretch along which the distance only rises or only falls.
    void splitRising(const D::VoronoiEdge& edge, double s0, int r0, double s1, int r1)
    {
        if (isPlain(edge, std::min(r0, r1)))
            return;
        const double low = std::min(s0, s1), high = std::max(s0, s1);
        const double sign = s0 + s1 < 0 ? -1 : 1;
        double from = s0;
        int rank = r0 % 2 ? r0 : r1 > r0 ? r0 + 1 : r0 - 1;  // just after the start
        forEachLevelBetween(r0, r1, [&](int k) {
            const double s = std::clamp(sign * placeOf(edge, m_levels[k]), low, high);
            sampleBetween(edge, from, s, rank);
            m_splits.push_back(addVertex(pointAt(edge, s), m_levels[k], 2 * k));
            from = s;
            rank = r1 > r0 ? 2 * k + 1 : 2 * k - 1;
        });
        if (r0 != r1 || r0 % 2)
            sampleBetween(edge, from, s1, rank);
    }

    // In the bevel the plan deviates from the chord by at most step^2 / 8h. Round a corner the samples are close enough for its
    // arcs, which take their points from the directions of the chain's.
    void sampleBetween(const D::VoronoiEdge& edge, double from, double to, int rank)
    {
        if (rank % 2 == 0)
            return;
        const double step = std::sqrt(8 * edge.h * m_tolerance);
        const double byTolerance = rank > 2 * m_last ? 1 : std::abs(to - from) / std::max(step, 1.0);
        // Direction from the corner: a parabola's point at s is seen under 2 atan(s / h), a straight edge's under atan(s / h).
        const double turns = edge.kind == D::Kind::Parabola ? 2 : 1;
        const double a = std::atan(from / edge.h), b = std::atan(to / edge.h);
        const double byAngle = edge.atCorner ? turns * std::abs(b - a) / m_arcStep : 1;
        const int pieces = static_cast<int>(std::min<double>(kMostSamples, std::ceil(std::max(byTolerance, byAngle))));
        for (int i = 1; i < pieces; ++i) {
            const double f = static_cast<double>(i) / pieces;
            const double s = byAngle > byTolerance ? edge.h * std::tan(a + (b - a) * f) : from + (to - from) * f;
            m_splits.push_back(addVertex(pointAt(edge, s), distanceAt(edge, s), rank));
        }
    }

    // --- cells ---------------------------------------------------------------------------------------------------------

    void cutCell(const D::Cell& cell)
    {
        m_cell = &cell;
        const Roof::Foot& foot = m_d.feet[cell.site];
        m_isCorner = cell.siteBefore >= 0;
        if (m_isCorner) {
            const Roof::Foot& before = m_d.feet[cell.siteBefore];
            m_apex = m_d.vertices[foot.start].p;
            const Vec2 out = normalized(foot.b - foot.a), in = normalized(before.b - before.a);
            m_firstDirection = {-out.y, out.x};
            const Vec2 lastDirection{-in.y, in.x};
            m_wedge = std::max(0.0, std::atan2(cross(m_firstDirection, lastDirection), dot(m_firstDirection, lastDirection)));
            const bool isOwn = m_d.cornerBefore[cell.site] && !m_settings.rounded.contains(cell.site);
            m_mitredHere = m_settings.mitred && isOwn && 1 / std::cos(m_wedge / 2) < kLongestMitre;
            m_flatHere = m_settings.flat && isOwn && m_wedge < kWidestFlat;
        } else {
            m_apex = m_d.vertices[foot.end].p;
            m_firstDirection = m_d.vertices[foot.start].p - m_apex;
            m_firstDirection = m_firstDirection * (1 / dot(m_firstDirection, m_firstDirection));
            m_mitredHere = m_flatHere = false;
        }
        Points chain;
        for (const D::Link& link : cell.chain)
            appendLink(chain, link);
        appendPoint(chain, foot.start);
        if (m_isCorner)
            chain.back().u = m_wedge;
        cutRegion(chain, {}, 0);
    }

    void appendLink(Points& chain, const D::Link& link)
    {
        const D::VoronoiEdge& edge = m_d.edges[link.edge];
        appendPoint(chain, link.forward ? edge.v0 : edge.v1);
        const std::uint32_t begin = m_splitEnd[link.edge], end = m_splitEnd[link.edge + 1];
        for (std::uint32_t i = begin; i < end; ++i)
            appendPoint(chain, m_splits[link.forward ? i : end - 1 - (i - begin)]);
    }

    void appendPoint(Points& chain, std::uint32_t id)
    {
        Point point;
        point.id = id;
        point.p = m_sheet.vertices[id].p;
        point.rank = m_ranks[id];
        const Vec2 q = point.p - m_apex;
        if (m_isCorner)
            point.u = q == Vec2{} ? 0 : std::clamp(std::atan2(cross(m_firstDirection, q), dot(m_firstDirection, q)), 0.0, m_wedge);
        else
            point.u = std::clamp(dot(q, m_firstDirection), 0.0, 1.0);
        if (!chain.empty())
            point.u = std::max(point.u, chain.back().u);
        chain.push_back(point);
    }

    // The region over level k whose chain of Voronoi edges is `chain` and whose foot is `base` (points between the chain's
    // ends): gives the band up to the next level and goes on above it.
    void cutRegion(const Points& chain, const Points& base, int k)
    {
        if (k == m_last) {
            emitBand(chain, base, k);
            return;
        }
        const int next = 2 * (k + 1);
        Points upper;
        struct Above {
            std::size_t begin, end;
            Points arc;
        };
        std::vector<Above> above;
        for (std::size_t i = 0; i < chain.size(); ++i) {
            upper.push_back(chain[i]);
            if (chain[i].rank != next || i + 1 == chain.size() || chain[i + 1].rank <= next)
                continue;
            std::size_t j = i + 1;
            while (j + 1 < chain.size() && chain[j].rank != next)
                ++j;
            Points arc = levelBetween(chain, i, j, k + 1);
            upper.insert(upper.end(), arc.begin(), arc.end());
            above.push_back({i, j, std::move(arc)});
            i = j - 1;
        }
        emitBand(upper, base, k);
        for (const Above& a : above)
            cutRegion(Points(chain.begin() + static_cast<std::ptrdiff_t>(a.begin), chain.begin() + static_cast<std::ptrdiff_t>(a.end) + 1),
                      a.arc, k + 1);
    }

    // Points of level k between two places of the chain: none in an edge's cell, where it is straight.
    Points levelBetween(const Points& chain, std::size_t i, std::size_t j, int k)
    {
        Points arc;
        if (!m_isCorner)
            return arc;
        const double u0 = chain[i].u, u1 = chain[j].u, radius = m_levels[k];
        const auto add = [&](double u, double r, bool mitre) {
            const double c = std::cos(u), s = std::sin(u);
            const Vec2 direction{m_firstDirection.x * c - m_firstDirection.y * s, m_firstDirection.x * s + m_firstDirection.y * c};
            Point point;
            point.p = m_apex + direction * r;
            point.u = u;
            point.rank = 2 * k;
            point.mitre = mitre;
            point.id = addVertex(point.p, radius, 2 * k);
            arc.push_back(point);
        };
        const double middle = m_wedge / 2;
        if (m_mitredHere && u0 < 1e-6 && u1 > m_wedge - 1e-6) {
            const double room = 0.98 * reach(chain, i, j, middle);
            add(middle, std::max(radius, std::min(radius / std::cos(middle), room)), true);
            return arc;
        }
        if (m_flatHere)
            return arc;
        // Points in the directions of the chain's: then no chord of the arc can reach over a chord of the chain.
        double last = u0;
        for (std::size_t n = i + 1; n < j && m_d.arcBefore[m_cell->site]; ++n)
            if (chain[n].u > last + 1e-7 && chain[n].u < u1 - 1e-7) {
                last = chain[n].u;
                add(last, radius, false);
            }
        return arc;
    }

    // How far the cell goes from its corner in direction u.
    double reach(const Points& chain, std::size_t i, std::size_t j, double u) const
    {
        for (std::size_t n = i; n < j; ++n)
            if (chain[n].u <= u && u <= chain[n + 1].u) {
                const Vec2 a = chain[n].p - m_apex, b = chain[n + 1].p - m_apex;
                const double span = chain[n + 1].u - chain[n].u;
                if (span < 1e-9)
                    return std::min(length(a), length(b));
                // Law of sines on the chord from a to b.
                const double la = length(a), lb = length(b);
                return la * lb * std::sin(span) / (la * std::sin(u - chain[n].u) + lb * std::sin(chain[n + 1].u - u));
            }
        return 1e300;
    }

    void emitBand(const Points& upper, const Points& base, int band)
    {
        const auto mitreOf = [](const Points& points) {
            return std::find_if(points.begin(), points.end(), [](const Point& p) { return p.mitre; });
        };
        const auto high = mitreOf(upper), low = mitreOf(base);
        // Only a mitre of the band's own upper level counts; the chain itself has none.
        if (high != upper.end() && low != base.end()) {
            Points firstUpper(upper.begin(), high + 1), secondUpper{*low};
            secondUpper.insert(secondUpper.end(), high, upper.end());
            emitPolygon(firstUpper, Points(base.begin(), low + 1), band);
            emitPolygon(secondUpper, Points(low + 1, base.end()), band);
            return;
        }
        emitPolygon(upper, base, band);
    }

    void emitPolygon(const Points& upper, const Points& base, int band)
    {
        m_upper.assign(upper.begin(), upper.end());
        // Two diagram vertices can all but coincide; rounding must not decide how they turn.
        for (std::size_t i = 1; i < m_upper.size(); ++i)
            if (length(m_upper[i].p - m_upper[i - 1].p) < kSamePlace)
                m_upper[i].p = m_upper[i - 1].p;
        m_lower.clear();
        m_triangles.clear();
        if (m_isCorner && upper.front().id == upper.back().id) {
            for (std::size_t i = 1; i + 2 < upper.size(); ++i)
                m_triangles.push_back({upper[0].id, upper[i].id, upper[i + 1].id});
        } else {
            m_lower.push_back(upper.front());
            m_lower.insert(m_lower.end(), base.begin(), base.end());
            m_lower.push_back(upper.back());
            triangulateMonotone(m_upper, m_lower, m_triangles);
        }
        for (const auto& t : m_triangles) {
            RoofTriangle triangle{t, m_cell->site, m_cell->siteBefore, static_cast<std::int16_t>(band), 0};
            if (m_mitredHere) {
                const Vec2 q = (m_sheet.vertices[t[0]].p + m_sheet.vertices[t[1]].p + m_sheet.vertices[t[2]].p) * (1.0 / 3) - m_apex;
                triangle.mitreSide = std::atan2(cross(m_firstDirection, q), dot(m_firstDirection, q)) < m_wedge / 2 ? 1 : -1;
            }
            if (m_flatHere)
                triangle.mitreSide = 2;
            m_sheet.triangles.push_back(triangle);
        }
    }

    const D& m_d;
    const Roof::CutSettings& m_settings;
    double m_tolerance;            // grid steps
    double m_arcStep = 0;          // radians
    std::vector<double> m_levels;  // grid steps
    int m_last = 0;

    RoofSheet m_sheet;
    std::vector<int> m_ranks;
    std::vector<std::uint32_t> m_splits;    // inner points of all edges
    std::vector<std::uint32_t> m_splitEnd;  // where those of edge i begin

    const D::Cell* m_cell = nullptr;
    bool m_isCorner = false;
    bool m_mitredHere = false, m_flatHere = false;
    Vec2 m_apex, m_firstDirection;
    double m_wedge = 0;
    std::vector<MonotonePoint> m_upper, m_lower;
    std::vector<std::array<std::uint32_t, 3>> m_triangles;
};

RoofSheet Roof::cut(const CutSettings& settings) const
{
    return RoofCutter(*m_diagram, settings).run();
}

}  // namespace solid
