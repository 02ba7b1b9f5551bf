#include "work/clashes.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace work {

namespace {

using base::Box3;
using base::Vec3;

constexpr std::size_t kMostTests = 4'000'000;  // of an edge against a face: about 0.1 s

struct Triangle {
    std::array<Vec3, 3> p;
    Box3 box;
};

bool overlap(const Box3& a, const Box3& b, double least)
{
    const auto way = [&](double aLow, double aHigh, double bLow, double bHigh) {
        return std::min(aHigh, bHigh) - std::max(aLow, bLow) > least;
    };
    return way(a.low.x, a.high.x, b.low.x, b.high.x) && way(a.low.y, a.high.y, b.low.y, b.high.y) &&
           way(a.low.z, a.high.z, b.low.z, b.high.z);
}

// Those near a box, from left to right.
std::vector<Triangle> trianglesNear(const WorkBody& body, const Box3& box)
{
    std::vector<Triangle> triangles;
    for (const auto& corners : body.body->triangles) {
        Triangle t;
        for (std::size_t i = 0; i < 3; ++i) {
            t.p[i] = body.pose.apply(toDouble(body.body->positions[corners[i]]));
            t.box.add(t.p[i]);
        }
        if (overlap(t.box, box, -kTouchPt))
            triangles.push_back(t);
    }
    std::sort(triangles.begin(), triangles.end(), [](const Triangle& a, const Triangle& b) { return a.box.low.x < b.box.low.x; });
    return triangles;
}

// Whether an edge goes through a face, with at least kTouchPt on either side of it.
bool passes(const Vec3& a, const Vec3& b, const Triangle& face)
{
    const Vec3 u = face.p[1] - face.p[0], v = face.p[2] - face.p[0], normal = cross(u, v);
    const double twice = length(normal);
    if (twice < 1e-9)
        return false;
    const double da = dot(a - face.p[0], normal) / twice, db = dot(b - face.p[0], normal) / twice;
    if (!((da < -kTouchPt && db > kTouchPt) || (da > kTouchPt && db < -kTouchPt)))
        return false;
    const Vec3 at = a + (b - a) * (da / (da - db)) - face.p[0];
    const double uu = dot(u, u), uv = dot(u, v), vv = dot(v, v), wu = dot(at, u), wv = dot(at, v), det = uu * vv - uv * uv;
    const double s = (wu * vv - wv * uv) / det, t = (wv * uu - wu * uv) / det;
    return s > 0 && t > 0 && s + t < 1;
}

bool anyEdgePasses(const std::vector<Triangle>& edges, const std::vector<Triangle>& faces, std::size_t& tests)
{
    for (const Triangle& e : edges)
        for (const Triangle& f : faces) {
            if (f.box.low.x > e.box.high.x)
                break;
            if (tests == 0)
                return false;
            --tests;
            if (!overlap(e.box, f.box, -1e-9))
                continue;
            for (std::size_t i = 0; i < 3; ++i)
                if (passes(e.p[i], e.p[(i + 1) % 3], f))
                    return true;
        }
    return false;
}

// Whether a body lies within another one, by what a ray towards the viewer from one of its points meets.
bool within(const WorkBody& inner, const WorkBody& outer)
{
    // A little beside the point, so that the ray meets no edge.
    const Vec3 from = inner.pose.apply(toDouble(inner.body->positions.front())) + Vec3{0.37e-3, 0.71e-3, 0};
    int crossings = 0;
    for (const auto& corners : outer.body->triangles) {
        std::array<Vec3, 3> p;
        for (std::size_t i = 0; i < 3; ++i)
            p[i] = outer.pose.apply(toDouble(outer.body->positions[corners[i]])) - from;
        const auto side = [](const Vec3& a, const Vec3& b) { return a.x * b.y - a.y * b.x; };
        const double a = side(p[0], p[1]), b = side(p[1], p[2]), c = side(p[2], p[0]);
        if ((a > 0) != (b > 0) || (b > 0) != (c > 0))
            continue;
        crossings += (b * p[0].z + c * p[1].z + a * p[2].z) / (a + b + c) > 0;
    }
    return crossings % 2;
}

Box3 sharedBox(const Box3& a, const Box3& b)
{
    Box3 both;
    both.low = {std::max(a.low.x, b.low.x), std::max(a.low.y, b.low.y), std::max(a.low.z, b.low.z)};
    both.high = {std::min(a.high.x, b.high.x), std::min(a.high.y, b.high.y), std::min(a.high.z, b.high.z)};
    return both;
}

bool shareRoom(const WorkBody& a, const Box3& aBox, const WorkBody& b, const Box3& bBox, std::size_t& tests)
{
    const Box3 both = sharedBox(aBox, bBox);
    const auto as = trianglesNear(a, both), bs = trianglesNear(b, both);
    return anyEdgePasses(as, bs, tests) || anyEdgePasses(bs, as, tests) || within(a, b) || within(b, a);
}

// Bodies that stand on one plane, as letters and a board against the wall do: the deeper one looks like lying on the other.
bool standTogether(const WorkBody& a, const WorkBody& b)
{
    return dot(a.pose.out, b.pose.out) > 1 - 1e-9 && std::abs(dot(a.pose.out, a.pose.origin - b.pose.origin)) < kTouchPt;
}

struct Placed {
    const WorkBody* body;
    Box3 box;
};

std::vector<Placed> placedOf(const WorkBodies& bodies)
{
    std::vector<Placed> placed;
    for (const WorkBody& body : bodies.bodies)
        if (!body.body->positions.empty())
            placed.push_back({&body, worldBox(body)});
    std::sort(placed.begin(), placed.end(), [](const Placed& a, const Placed& b) { return a.box.low.x < b.box.low.x; });
    return placed;
}

}  // namespace

std::vector<Clash> clashesOf(const Work& work, const WorkBodies& bodies)
{
    std::map<std::string, std::size_t> rank;
    for (const std::string& id : work.pieces.order)
        rank.emplace(id, rank.size());
    const std::vector<Placed> placed = placedOf(bodies);
    std::map<std::pair<std::size_t, std::size_t>, Vec3> found;
    std::size_t tests = kMostTests;
    for (std::size_t i = 0; i < placed.size(); ++i)
        for (std::size_t k = i + 1; k < placed.size() && placed[k].box.low.x < placed[i].box.high.x; ++k) {
            const Placed &a = placed[i], &b = placed[k];
            if (a.body->piece == b.body->piece || !overlap(a.box, b.box, kTouchPt) || standTogether(*a.body, *b.body))
                continue;
            const auto pair = std::minmax(rank.at(a.body->piece), rank.at(b.body->piece));
            if (!found.contains(pair) && shareRoom(*a.body, a.box, *b.body, b.box, tests))
                found.emplace(pair, sharedBox(a.box, b.box).centre());
        }
    std::vector<Clash> clashes;
    for (const auto& [pair, at] : found)
        clashes.push_back({work.pieces.order[pair.first], work.pieces.order[pair.second], at});
    return clashes;
}

base::Notes clashNotes(const Work& work, const std::vector<Clash>& clashes)
{
    base::Notes notes;
    for (const Clash& clash : clashes)
        notes.push_back({"clash",
                         fmt::format("{} and {} cut into each other", titleOf(work.pieces.items.at(clash.piece)),
                                     titleOf(work.pieces.items.at(clash.other))),
                         placeOf({clash.piece})});
    return notes;
}

Work parted(Work work, const WorkBodies& bodies, const std::string& id)
{
    std::set<std::string> others;
    for (const Clash& clash : clashesOf(work, bodies))
        if (clash.piece == id || clash.other == id)
            others.insert(clash.piece == id ? clash.other : clash.piece);
    Box3 own, their;
    for (const Placed& p : placedOf(bodies))
        if (p.body->piece == id || others.contains(p.body->piece)) {
            Box3& box = p.body->piece == id ? own : their;
            box.add(p.box.low);
            box.add(p.box.high);
        }
    if (own.empty() || their.empty())
        return work;
    Placement& placement = work.pieces.items.at(id).placement;
    std::vector<Vec3> ways{{their.high.x - own.low.x, 0, 0}, {their.low.x - own.high.x, 0, 0}, {0, 0, their.high.z - own.low.z}};
    if (placement.stance != Stance::OnFloor) {
        ways.push_back({0, their.high.y - own.low.y, 0});
        ways.push_back({0, their.low.y - own.high.y, 0});
    }
    const Vec3 way = *std::min_element(ways.begin(), ways.end(), [](const Vec3& a, const Vec3& b) { return length(a) < length(b); });
    placement.x += way.x;
    placement.y += way.y;
    if (way.z != 0) {
        if (placement.stance == Stance::AgainstWall) {
            placement.stance = Stance::Free;
            placement.z = -work.ground.wallBehind;
        }
        placement.z += way.z;
    }
    return work;
}

}  // namespace work
