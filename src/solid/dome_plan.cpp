#include "solid/dome_plan.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "base/units.h"
#include "solid/sides.h"

namespace solid {

namespace {

constexpr double kSteepPart = 55;    // degrees of a half round's quarter that are cut into bands
constexpr double kLeastStep = 0.06;  // of the lattice, of the widest stroke's half
constexpr double kMostStep = 0.13;
constexpr double kCoarse = 0.03, kCoarseStep = 0.4;  // a tolerance from which on it is a first sight, of the same
constexpr double kRoomAtRing = 0.6;                  // lattice steps between the ring and the lattice
constexpr double kMostOnBorder = 20000;              // points an endless hairline is cut to
constexpr int kTries = 3;                            // with rings at slightly other places

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<std::uint32_t, Kernel>;
using Triangulation = CGAL::Constrained_Delaunay_triangulation_2<
    Kernel, CGAL::Triangulation_data_structure_2<VertexBase, CGAL::Constrained_triangulation_face_base_2<Kernel>>,
    CGAL::No_constraint_intersection_requiring_constructions_tag>;

struct DirectedEdge {
    std::uint32_t from, to;
    std::int32_t site;
};

std::uint64_t keyOf(std::uint32_t a, std::uint32_t b)
{
    return std::uint64_t{a} << 32 | b;
}

// The rim of the last band: its edges that no other triangle of the band has, the band on their left.
std::vector<DirectedEdge> rimOfLastBand(const RoofSheet& sheet, int last)
{
    std::unordered_map<std::uint64_t, std::int32_t> edges;
    for (const RoofTriangle& t : sheet.triangles)
        if (t.band == last)
            for (std::size_t i = 0; i < 3; ++i)
                edges.emplace(keyOf(t.v[i], t.v[(i + 1) % 3]), t.site);
    std::vector<DirectedEdge> rim;
    for (const RoofTriangle& t : sheet.triangles)
        if (t.band == last)
            for (std::size_t i = 0; i < 3; ++i) {
                const std::uint32_t a = t.v[i], b = t.v[(i + 1) % 3];
                if (!edges.contains(keyOf(b, a)))
                    rim.push_back({a, b, t.site});
            }
    return rim;
}

// Points of a hexagonal lattice inside the rim and not near it.
std::vector<Vec2> latticeInside(const RoofSheet& sheet, const std::vector<DirectedEdge>& rim, double step)
{
    base::Box2 box;
    for (const DirectedEdge& e : rim)
        box.add(sheet.vertices[e.from].p);
    // Squares of one step with the rim's points in them.
    const auto square = [&](Vec2 p) {
        return std::uint64_t(std::uint32_t(int(std::floor((p.x - box.low.x) / step)))) << 32 |
               std::uint32_t(int(std::floor((p.y - box.low.y) / step)));
    };
    std::unordered_map<std::uint64_t, std::vector<Vec2>> near;
    for (const DirectedEdge& e : rim) {
        const Vec2 a = sheet.vertices[e.from].p, b = sheet.vertices[e.to].p;
        const int parts = std::max(1, static_cast<int>(std::ceil(length(b - a) / step)));
        for (int k = 0; k < parts; ++k)
            near[square(lerp(a, b, double(k) / parts))].push_back(lerp(a, b, double(k) / parts));
    }
    const auto isNear = [&](Vec2 p) {
        for (int i = -1; i <= 1; ++i)
            for (int k = -1; k <= 1; ++k)
                if (const auto found = near.find(square({p.x + i * step, p.y + k * step})); found != near.end())
                    for (const Vec2 q : found->second)
                        if (length(p - q) < kRoomAtRing * step)
                            return true;
        return false;
    };
    const double rowStep = step * std::sqrt(0.75);
    const int rows = static_cast<int>((box.high.y - box.low.y) / rowStep);
    std::vector<std::vector<double>> crossings(static_cast<std::size_t>(std::max(0, rows)));
    const auto yOf = [&](int row) { return box.low.y + (row + 0.5) * rowStep; };
    for (const DirectedEdge& e : rim) {
        Vec2 a = sheet.vertices[e.from].p, b = sheet.vertices[e.to].p;
        if (a.y > b.y)
            std::swap(a, b);
        for (int row = std::max(0, static_cast<int>((a.y - box.low.y) / rowStep - 1)); row < rows && yOf(row) < b.y; ++row)
            if (yOf(row) >= a.y)
                crossings[static_cast<std::size_t>(row)].push_back(a.x + (b.x - a.x) * (yOf(row) - a.y) / (b.y - a.y));
    }
    std::vector<Vec2> points;
    for (int row = 0; row < rows; ++row) {
        auto& xs = crossings[static_cast<std::size_t>(row)];
        std::sort(xs.begin(), xs.end());
        for (std::size_t i = 0; i + 1 < xs.size(); i += 2)
            for (double x = (std::floor(xs[i] / step) + (row % 2 ? 0.5 : 0)) * step; x < xs[i + 1]; x += step)
                if (x > xs[i] && !isNear({x, yOf(row)}))
                    points.push_back({x, yOf(row)});
    }
    return points;
}

// Puts the lattice in the place of the last band's triangles; false where the triangulation cannot take the rim.
bool putLattice(RoofSheet& sheet, int last, double step, double deepestRing)
{
    const std::vector<DirectedEdge> rim = rimOfLastBand(sheet, last);
    if (rim.empty())
        return true;
    Triangulation plan;
    std::unordered_map<std::uint32_t, Triangulation::Vertex_handle> handles;
    Triangulation::Face_handle hint;
    const auto insert = [&](std::uint32_t id) {
        const Vec2 p = sheet.vertices[id].p;
        const auto vertex = plan.insert({p.x, p.y}, hint);
        hint = vertex->face();
        return vertex;
    };
    for (const DirectedEdge& e : rim)
        if (!handles.contains(e.from)) {
            const std::size_t before = plan.number_of_vertices();
            const auto vertex = insert(e.from);
            if (plan.number_of_vertices() == before)
                return false;  // two vertices at one place
            vertex->info() = e.from;
            handles.emplace(e.from, vertex);
        }
    try {
        for (const DirectedEdge& e : rim) {
            const auto to = handles.find(e.to);
            if (to == handles.end())
                return false;
            plan.insert_constraint(handles.at(e.from), to->second);
        }
    } catch (const Triangulation::Intersection_of_constraints_exception&) {
        return false;
    }
    for (const Vec2 p : latticeInside(sheet, rim, step)) {
        const auto vertex = plan.insert({p.x, p.y}, hint);
        hint = vertex->face();
        vertex->info() = static_cast<std::uint32_t>(sheet.vertices.size());
        sheet.vertices.push_back({p, deepestRing});
    }
    // Inside is what lies left of the rim, up to the rim.
    std::vector<RoofTriangle> inner;
    std::unordered_map<Triangulation::Face_handle, std::int32_t> sites;
    std::vector<Triangulation::Face_handle> front;
    for (const DirectedEdge& e : rim) {
        Triangulation::Face_handle face;
        int i = 0;
        if (!plan.is_edge(handles.at(e.from), handles.at(e.to), face, i))
            return false;
        // `i` is opposite of the edge: the face whose counter-clockwise order is from, to lies left of it.
        if (face->vertex(plan.ccw(i)) != handles.at(e.from))
            face = face->neighbor(i);
        if (sites.emplace(face, e.site).second)
            front.push_back(face);
    }
    for (std::size_t at = 0; at < front.size(); ++at) {
        const auto face = front[at];
        if (plan.is_infinite(face))
            return false;
        const std::int32_t site = sites.at(face);
        const std::array<std::uint32_t, 3> v{face->vertex(0)->info(), face->vertex(1)->info(), face->vertex(2)->info()};
        inner.push_back({v, site, -1, static_cast<std::int16_t>(last), 0});
        for (int i = 0; i < 3; ++i)
            if (!face->is_constrained(i) && sites.emplace(face->neighbor(i), site).second)
                front.push_back(face->neighbor(i));
    }
    std::erase_if(sheet.triangles, [&](const RoofTriangle& t) { return t.band == last; });
    sheet.triangles.insert(sheet.triangles.end(), inner.begin(), inner.end());
    return true;
}

}  // namespace

base::Result<DomePlan> planDome(const outline::Outline& outline, double tolerancePt, const base::Progress& progress, double longestEdgePt)
{
    const auto stopped = [] { return base::fail(base::ErrorCode::Stopped, "Stopped"); };
    const auto first = Roof::make(outline);
    if (!first)
        return tl::unexpected<base::Error>(first.error());
    const double radius = std::max((*first)->largestDistance(), 4 * outline.unitPt);
    const bool coarse = tolerancePt > kCoarse * radius;
    double around = 0;
    for (const Roof::Foot& foot : (*first)->feet())
        around += length(foot.b - foot.a);
    const double step =
        std::max(std::clamp(std::sqrt(8 * radius * tolerancePt), kLeastStep * radius, (coarse ? kCoarseStep : kMostStep) * radius),
                 around / kMostOnBorder);
    const int quarter = std::clamp(static_cast<int>(std::ceil(0.56 * std::sqrt(radius / tolerancePt))), coarse ? 3 : 6, 24);
    DomePlan plan{withShortEdges(outline, std::min(step, longestEdgePt)), {}, {}, radius};
    if (progress.stopRequested())
        return stopped();
    const auto roof = Roof::make(plan.outline);
    if (!roof)
        return tl::unexpected<base::Error>(roof.error());
    plan.feet.assign((*roof)->feet().begin(), (*roof)->feet().end());
    for (int attempt = 0; attempt <= kTries; ++attempt) {
        if (progress.stopRequested())
            return stopped();
        Roof::CutSettings settings;
        settings.tolerancePt = tolerancePt;
        const double shrink = 1 - 0.013 * attempt;
        for (int i = 0; i * 90.0 / quarter <= kSteepPart; ++i)
            settings.levels.push_back(radius * shrink * (1 - std::cos(base::radians(i * 90.0 / quarter))));
        plan.sheet = (*roof)->cut(settings);
        // After the last try the roof's own triangles stay: coarse in the middle, but sound.
        if (attempt == kTries || putLattice(plan.sheet, static_cast<int>(settings.levels.size()) - 1, step, settings.levels.back()))
            break;
    }
    return plan;
}

}  // namespace solid
