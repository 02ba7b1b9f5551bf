#include "solid/sides.h"

#include <algorithm>
#include <cmath>

namespace solid {

namespace {

constexpr double kLeastTurn = 16;  // grid steps a point is off its neighbours' chord

// How far b is to the right of the way from a to c, grid steps.
double offChord(const outline::GridPoint& a, const outline::GridPoint& b, const outline::GridPoint& c)
{
    const Vec2 way{double(c.x) - a.x, double(c.y) - a.y}, own{double(b.x) - a.x, double(b.y) - a.y};
    return -cross(way, own) / length(way);
}

}  // namespace

std::vector<WallEdge> wallEdges(std::span<const Roof::Foot> feet, const std::vector<RimEdge>& rim)
{
    std::vector<WallEdge> edges;
    for (std::size_t i = 0; i < feet.size(); ++i)
        edges.push_back({feet[i].start, feet[i].end, rim[i].normalFrom, rim[i].normalTo, rim[i].start, rim[i].length, rim[i].letter});
    return edges;
}

void addWall(Body& body, const Wall& wall)
{
    const std::size_t count = wall.backIds.size();
    const auto zOf = [&](int ring) { return wall.back + (wall.front - wall.back) * ring / wall.slices; };
    // Rings of vertices from back to front.
    std::vector<std::vector<std::uint32_t>> rings{{wall.backIds.begin(), wall.backIds.end()}};
    for (int k = 1; k < wall.slices; ++k) {
        auto& ring = rings.emplace_back();
        for (std::size_t v = 0; v < count; ++v) {
            ring.push_back(static_cast<std::uint32_t>(body.positions.size()));
            const Vec3f& foot = body.positions[wall.backIds[v]];
            body.positions.push_back({foot.x, foot.y, float(zOf(k))});
        }
    }
    rings.emplace_back(wall.frontIds.begin(), wall.frontIds.end());
    for (std::size_t k = 0; k + 1 < rings.size(); ++k)
        for (std::size_t i = 0; i < wall.edges.size(); ++i) {
            const WallEdge& e = wall.edges[i];
            const auto corner = [&](bool atEnd, std::size_t ring) {
                const Vec2 n = atEnd ? e.normalTo : e.normalFrom;
                return Corner{{float(n.x), float(n.y), 0}, float(e.along + (atEnd ? e.length : 0)), float(zOf(static_cast<int>(ring)))};
            };
            const auto &low = rings[k], &high = rings[k + 1];
            const auto add = [&](const std::array<std::uint32_t, 3>& v, const std::array<Corner, 3>& corners) {
                body.triangles.push_back(v);
                body.corners.push_back(corners);
                body.parts.push_back(wall.part);
                body.letters.push_back(e.letter);
            };
            const Corner lowA = corner(false, k), lowB = corner(true, k), highA = corner(false, k + 1), highB = corner(true, k + 1);
            if ((i + k) % 2 == 0 || wall.slices == 1) {
                add({low[e.start], low[e.end], high[e.end]}, {lowA, lowB, highB});
                add({low[e.start], high[e.end], high[e.start]}, {lowA, highB, highA});
            } else {  // in turn, so that a twist neither gains nor loses
                add({low[e.start], low[e.end], high[e.start]}, {lowA, lowB, highA});
                add({low[e.end], high[e.end], high[e.start]}, {lowB, highB, highA});
            }
        }
}

outline::Outline withShortEdges(const outline::Outline& outline, double longestPt)
{
    outline::Outline result;
    result.unitPt = outline.unitPt;
    for (const outline::Contour& contour : outline.contours) {
        outline::Contour fine;
        std::vector<std::size_t> added;
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const outline::Edge& e = contour[i];
            const outline::GridPoint to = contour[(i + 1) % contour.size()].from;
            const double dx = double(to.x) - e.from.x, dy = double(to.y) - e.from.y;
            const int parts = std::max(1, static_cast<int>(std::ceil(std::hypot(dx, dy) * outline.unitPt / longestPt)));
            const Vec2 n0{e.normalFrom.x, e.normalFrom.y}, n1{e.normalTo.x, e.normalTo.y};
            const auto normalAt = [&](int k) {
                const Vec2 n = normalized(lerp(n0, n1, double(k) / parts));
                return base::V2<float>{float(n.x), float(n.y)};
            };
            for (int k = 0; k < parts; ++k) {
                if (k > 0)
                    added.push_back(fine.size());
                fine.push_back({{e.from.x + static_cast<std::int32_t>(std::lround(dx * k / parts)),
                                 e.from.y + static_cast<std::int32_t>(std::lround(dy * k / parts))},
                                k == 0 ? e.normalFrom : normalAt(k),
                                k + 1 == parts ? e.normalTo : normalAt(k + 1),
                                e.letter});
            }
        }
        const std::size_t n = fine.size();
        for (const std::size_t i : added) {
            outline::GridPoint& p = fine[i].from;
            const outline::GridPoint &before = fine[i - 1].from, &after = fine[(i + 1) % n].from;
            if (std::abs(offChord(before, p, after)) > kLeastTurn / 4)
                continue;
            const Vec2 way = normalized(Vec2{double(after.x) - before.x, double(after.y) - before.y});
            p.x += static_cast<std::int32_t>(std::lround(way.y * kLeastTurn));
            p.y -= static_cast<std::int32_t>(std::lround(way.x * kLeastTurn));
        }
        result.contours.push_back(std::move(fine));
    }
    return result;
}

}  // namespace solid
