#include "solid/roof_diagram.h"

#include <algorithm>
#include <boost/polygon/voronoi.hpp>
#include <unordered_map>

#include "base/units.h"

namespace solid {

namespace {

using Voronoi = boost::polygon::voronoi_diagram<double>;

constexpr double kSamePoint = 0.01;  // grid steps: a Voronoi vertex this near an outline point is that point
constexpr double kTrueCorner = Roof::kArcsFrom;

std::uint64_t keyOf(std::int64_t x, std::int64_t y)
{
    return static_cast<std::uint64_t>(x) << 32 ^ static_cast<std::uint32_t>(y);
}

base::Error crossing()
{
    return {base::ErrorCode::BadInput, "This outline crosses itself and cannot be made solid", {}};
}

}  // namespace

// Builds a Roof::Diagram from Boost's.
class RoofBuilder {
public:
    using D = Roof::Diagram;

    RoofBuilder(const outline::Outline& outline, double arcsFrom) : m_outline(outline), m_arcsFrom(arcsFrom), m_d(std::make_unique<D>()) {}

    base::Result<std::unique_ptr<D>> build()
    {
        m_d->unitPt = m_outline.unitPt;
        addFeet();
        splitTouchingPoints();
        boost::polygon::voronoi_builder<std::int32_t> builder;
        for (const Segment& s : m_segments)
            builder.insert_segment(s.a.x, s.a.y, s.b.x, s.b.y);
        builder.construct(&m_voronoi);
        m_vertexIds.assign(m_voronoi.num_vertices(), 0);
        for (const auto& cell : m_voronoi.cells())
            if (cell.contains_segment() && !addEdgeCell(cell))
                return tl::unexpected<base::Error>(crossing());
        for (const auto& cell : m_voronoi.cells())
            if (cell.contains_point() && !addCornerCell(cell))
                return tl::unexpected<base::Error>(crossing());
        for (const D::Vertex& v : m_d->vertices)
            m_d->largestDistance = std::max(m_d->largestDistance, v.distance);
        return std::move(m_d);
    }

private:
    using HalfEdge = Voronoi::edge_type;
    struct Segment {
        outline::GridPoint a, b;
        Vec2 from, to;
    };

    void addFeet()
    {
        for (const outline::Contour& contour : m_outline.contours) {
            const auto first = static_cast<std::uint32_t>(m_segments.size());
            const auto count = static_cast<std::uint32_t>(contour.size());
            for (std::uint32_t i = 0; i < count; ++i) {
                const outline::Edge& edge = contour[i];
                const outline::Edge& next = contour[(i + 1) % count];
                const outline::Edge& before = contour[(i + count - 1) % count];
                const Vec2 a{double(edge.from.x), double(edge.from.y)}, b{double(next.from.x), double(next.from.y)};
                m_segments.push_back({edge.from, next.from, a, b});
                m_d->feet.push_back({first + i, first + (i + 1) % count, a * m_outline.unitPt, b * m_outline.unitPt});
                m_d->vertices.push_back({a, 0});
                const auto n0 = before.normalTo, n1 = edge.normalFrom;
                const double turn = std::abs(std::atan2(cross(n0, n1), dot(n0, n1)));
                m_d->cornerBefore.push_back(turn > kTrueCorner);
                m_d->arcBefore.push_back(turn > m_arcsFrom);
            }
        }
    }

    // Where contours touch in a point, every inner wedge gets a vertex of its own: the edge that starts the wedge takes the
    // edge that ends it, the next one counter-clockwise.
    void splitTouchingPoints()
    {
        for (std::size_t i = 0; i < m_segments.size(); ++i)
            m_startsAt[keyOf(m_segments[i].a.x, m_segments[i].a.y)].push_back(static_cast<int>(i));
        std::unordered_map<std::uint64_t, std::vector<int>> endsAt;
        for (std::size_t i = 0; i < m_segments.size(); ++i)
            endsAt[keyOf(m_segments[i].b.x, m_segments[i].b.y)].push_back(static_cast<int>(i));
        for (const auto& [key, starts] : m_startsAt) {
            if (starts.size() < 2)
                continue;
            for (const int out : starts) {
                const Vec2 direction = m_segments[out].to - m_segments[out].from;
                double best = 1e9;
                for (const int in : endsAt[key]) {
                    const Vec2 back = m_segments[in].from - m_segments[in].to;
                    double angle = std::atan2(cross(direction, back), dot(direction, back));
                    if (angle <= 0)
                        angle += 2 * base::kPi;
                    if (angle < best) {
                        best = angle;
                        m_endOfWedge[out] = in;
                    }
                }
                m_d->feet[m_endOfWedge[out]].end = m_d->feet[out].start;
            }
        }
    }

    bool isAt(const Voronoi::vertex_type* v, const outline::GridPoint& p) const
    {
        return std::abs(v->x() - p.x) < kSamePoint && std::abs(v->y() - p.y) < kSamePoint;
    }

    bool isLeft(const HalfEdge& e, const Segment& s) const
    {
        const auto side = [&](const Voronoi::vertex_type* v) { return cross(s.to - s.from, Vec2{v->x(), v->y()} - s.from); };
        const double c0 = side(e.vertex0()), c1 = side(e.vertex1());
        return (std::abs(c0) > std::abs(c1) ? c0 : c1) > 0;
    }

    bool addEdgeCell(const Voronoi::cell_type& cell)
    {
        const auto site = static_cast<std::int32_t>(cell.source_index());
        const Segment& s = m_segments[site];
        const HalfEdge* first = nullptr;
        const HalfEdge* e = cell.incident_edge();
        do {
            if (e->is_finite() && isAt(e->vertex0(), s.b) && !isAt(e->vertex1(), s.b) && isLeft(*e, s)) {
                first = e;
                break;
            }
            e = e->next();
        } while (e != cell.incident_edge());
        if (!first)
            return false;
        D::Cell result;
        result.site = site;
        const double length = base::length(s.to - s.from);
        const auto distance = [&](Vec2 p) { return std::abs(cross(s.to - s.from, p - s.from)) / length; };
        const HalfEdge* step = first;
        for (;;) {
            if (!step->is_finite())
                return false;
            const bool last = isAt(step->vertex1(), s.a);
            const std::uint32_t v0 = step == first ? m_d->feet[site].end : vertexId(step->vertex0(), distance);
            const std::uint32_t v1 = last ? m_d->feet[site].start : vertexId(step->vertex1(), distance);
            addLink(result, step, v0, v1);
            if (last)
                break;
            step = step->next();
            if (step == first)
                return false;
        }
        m_d->cells.push_back(std::move(result));
        return true;
    }

    // A corner has a cell inside where the inner angle is over 180 degrees.
    bool addCornerCell(const Voronoi::cell_type& cell)
    {
        const Segment& source = m_segments[cell.source_index()];
        const bool atStart = cell.source_category() == boost::polygon::SOURCE_CATEGORY_SEGMENT_START_POINT;
        const outline::GridPoint p = atStart ? source.a : source.b;
        const HalfEdge* first = nullptr;
        const HalfEdge* e = cell.incident_edge();
        if (!e)
            return true;
        do {
            if (e->is_finite() && isAt(e->vertex0(), p) && e->twin()->color() != 0 && e->twin()->cell()->contains_segment()) {
                first = e;
                break;
            }
            e = e->next();
        } while (e != cell.incident_edge());
        if (!first)
            return true;  // its cell is outside
        const auto out = static_cast<std::int32_t>(first->twin()->cell()->source_index());
        D::Cell result;
        result.site = out;
        result.siteBefore = edgeBefore(out);
        const std::uint32_t apex = m_d->feet[out].start;
        const Vec2 corner{double(p.x), double(p.y)};
        const auto distance = [&](Vec2 q) { return base::length(q - corner); };
        const HalfEdge* step = first;
        for (;;) {
            if (!step->is_finite())
                return false;
            const bool last = isAt(step->vertex1(), p);
            const std::uint32_t v0 = step == first ? apex : vertexId(step->vertex0(), distance);
            const std::uint32_t v1 = last ? apex : vertexId(step->vertex1(), distance);
            addLink(result, step, v0, v1);
            if (last)
                break;
            step = step->next();
            if (step == first)
                return false;
        }
        if (!(m_segments[out].a == p))
            return true;  // an outer wedge whose neighbour is inside elsewhere
        m_d->cells.push_back(std::move(result));
        return true;
    }

    std::int32_t edgeBefore(std::int32_t out) const
    {
        if (const auto found = m_endOfWedge.find(out); found != m_endOfWedge.end())
            return found->second;
        std::int32_t first = 0;
        for (const outline::Contour& contour : m_outline.contours) {
            const auto count = static_cast<std::int32_t>(contour.size());
            if (out < first + count)
                return out == first ? first + count - 1 : out - 1;
            first += count;
        }
        return -1;
    }

    template <class Distance>
    std::uint32_t vertexId(const Voronoi::vertex_type* v, Distance distance)
    {
        std::uint32_t& id = m_vertexIds[static_cast<std::size_t>(v - m_voronoi.vertices().data())];
        if (id == 0) {
            id = static_cast<std::uint32_t>(m_d->vertices.size());
            const Vec2 p{v->x(), v->y()};
            m_d->vertices.push_back({p, distance(p)});
        }
        return id;
    }

    void addLink(D::Cell& cell, const HalfEdge* e, std::uint32_t v0, std::uint32_t v1)
    {
        if (e->color() == 0) {
            e->color(m_d->edges.size() + 1);
            e->twin()->color(m_d->edges.size() + 1);
            m_d->edges.push_back(edgeOf(*e, v0, v1));
        }
        const auto id = static_cast<std::uint32_t>(e->color() - 1);
        cell.chain.push_back({id, m_d->edges[id].v0 == v0});
    }

    Vec2 pointOf(const Voronoi::cell_type& cell) const
    {
        const Segment& s = m_segments[cell.source_index()];
        return cell.source_category() == boost::polygon::SOURCE_CATEGORY_SEGMENT_START_POINT ? s.from : s.to;
    }

    bool hasArcs(const Voronoi::cell_type& cell) const
    {
        if (!cell.contains_point())
            return false;
        const Vec2 p = pointOf(cell);
        const auto starts = m_startsAt.find(keyOf(std::llround(p.x), std::llround(p.y)));
        return starts != m_startsAt.end() && std::any_of(starts->second.begin(), starts->second.end(),
                                                         [&](int i) { return m_d->arcBefore[static_cast<std::size_t>(i)]; });
    }

    D::VoronoiEdge edgeOf(const HalfEdge& e, std::uint32_t v0, std::uint32_t v1) const
    {
        D::VoronoiEdge edge;
        edge.v0 = v0;
        edge.v1 = v1;
        const auto& a = *e.cell();
        const auto& b = *e.twin()->cell();
        edge.atCorner = hasArcs(a) || hasArcs(b);
        if (a.contains_point() && b.contains_point()) {
            const Vec2 p = pointOf(a), q = pointOf(b);
            edge.kind = D::Kind::Points;
            edge.focus = (p + q) * 0.5;
            edge.h = length(q - p) / 2;
            const Vec2 d = normalized(q - p);
            edge.along = {-d.y, d.x};
        } else if (e.is_primary() && (a.contains_point() || b.contains_point())) {
            const Segment& s = m_segments[(a.contains_segment() ? a : b).source_index()];
            edge.focus = pointOf(a.contains_point() ? a : b);
            edge.along = normalized(s.to - s.from);
            const double height = cross(edge.along, edge.focus - s.from);
            edge.h = std::abs(height);
            edge.up = Vec2{-edge.along.y, edge.along.x} * (height < 0 ? -1.0 : 1.0);
            edge.kind = edge.h > 1e-3 ? D::Kind::Parabola : D::Kind::Linear;
        }
        return edge;
    }

    const outline::Outline& m_outline;
    double m_arcsFrom;
    std::unique_ptr<D> m_d;
    std::vector<Segment> m_segments;
    std::unordered_map<std::uint64_t, std::vector<int>> m_startsAt;
    std::unordered_map<int, int> m_endOfWedge;
    Voronoi m_voronoi;
    std::vector<std::uint32_t> m_vertexIds;
};

base::Result<std::shared_ptr<const Roof>> Roof::make(const outline::Outline& outline, double arcsFrom)
{
    auto diagram = RoofBuilder(outline, arcsFrom).build();
    if (!diagram)
        return tl::unexpected<base::Error>(diagram.error());
    return std::shared_ptr<const Roof>(new Roof(std::move(*diagram)));
}

Roof::Roof(std::unique_ptr<Diagram> diagram) : m_diagram(std::move(diagram)) {}
Roof::~Roof() = default;

std::span<const Roof::Foot> Roof::feet() const
{
    return m_diagram->feet;
}

double Roof::largestDistance() const
{
    return m_diagram->largestDistance * m_diagram->unitPt;
}

}  // namespace solid
