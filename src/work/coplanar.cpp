#include "work/coplanar.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "solid/check.h"

namespace work {

namespace {

constexpr double kSamePlane = 0.0005;  // pt
constexpr double kSameNormal = 1e-9;   // 1 - cosine
constexpr double kOverlap = 0.01;      // pt that boxes share at least each way

struct Front {
    std::size_t body = 0;
    base::Vec3 normal;
    double distance = 0;  // of its plane from the origin
    base::Box2 box;       // in the plane's own axes
};

// Axes of a plane by its normal alone, so that they are the same for all bodies in it.
Front frontOf(const WorkBody& b, std::size_t index)
{
    const base::Box3 own = solid::bounds(*b.body);
    const base::Vec3 n = b.pose.out;
    const base::Vec3 other = std::abs(n.y) < 0.9 ? base::Vec3{0, 1, 0} : base::Vec3{1, 0, 0};
    const base::Vec3 u = normalized(cross(other, n)), v = cross(n, u);
    Front front{index, n, dot(n, b.pose.apply({0, 0, own.high.z})), {}};
    for (int i = 0; i < 4; ++i) {
        const base::Vec3 p = b.pose.apply({i & 1 ? own.high.x : own.low.x, i & 2 ? own.high.y : own.low.y, own.high.z});
        front.box.add(base::Vec2{dot(p, u), dot(p, v)});
    }
    return front;
}

bool samePlane(const Front& a, const Front& b)
{
    return std::abs(a.distance - b.distance) < kSamePlane && 1 - dot(a.normal, b.normal) < kSameNormal;
}

bool overlap(const Front& a, const Front& b)
{
    return std::min(a.box.high.x, b.box.high.x) - std::max(a.box.low.x, b.box.low.x) > kOverlap &&
           std::min(a.box.high.y, b.box.high.y) - std::max(a.box.low.y, b.box.low.y) > kOverlap;
}

// A rim lies round its piece, not over it.
bool isRimOf(const Work& work, const std::string& a, const std::string& b)
{
    const auto goesRound = [&](const std::string& rim, const std::string& piece) {
        const Shape* shape = work.pieces.items.at(rim).shape();
        return shape && shape->isPlate() && shape->rim > 0 && shape->margin >= 0 && shape->piece == piece;
    };
    return goesRound(a, b) || goesRound(b, a);
}

}  // namespace

void orderCoplanar(const Work& work, WorkBodies& bodies)
{
    std::map<std::string, int> places;  // in the order of pieces
    for (const std::string& id : work.pieces.order)
        places.emplace(id, static_cast<int>(places.size()));
    const auto order = [&](std::size_t body) { return std::pair(places.at(bodies.bodies[body].piece), bodies.bodies[body].copy); };
    const auto rankOf = [&](const Front& f) { return order(f.body); };
    if (bodies.bodies.empty())
        return;
    std::vector<Front> fronts;
    for (std::size_t i = 0; i < bodies.bodies.size(); ++i)
        fronts.push_back(frontOf(bodies.bodies[i], i));
    // Planes side by side, in each from left to right.
    std::sort(fronts.begin(), fronts.end(), [](const Front& a, const Front& b) {
        const auto key = [](const Front& f) {
            return std::tuple(std::lround(f.normal.x * 1e4), std::lround(f.normal.y * 1e4), std::lround(f.normal.z * 1e4),
                              std::lround(f.distance * 100));
        };
        return std::pair(key(a), a.box.low.x) < std::pair(key(b), b.box.low.x);
    });
    std::vector<std::pair<std::size_t, std::size_t>> pairs;  // the first is in front
    for (std::size_t i = 0; i < fronts.size(); ++i)
        for (std::size_t j = i + 1;
             j < fronts.size() && std::abs(fronts[j].distance - fronts[i].distance) < 0.02 && fronts[j].box.low.x < fronts[i].box.high.x;
             ++j)
            if (rankOf(fronts[i]) != rankOf(fronts[j]) &&
                !isRimOf(work, bodies.bodies[fronts[i].body].piece, bodies.bodies[fronts[j].body].piece) &&
                samePlane(fronts[i], fronts[j]) && overlap(fronts[i], fronts[j])) {
                const bool inOrder = rankOf(fronts[i]) < rankOf(fronts[j]);
                pairs.emplace_back(fronts[inOrder ? i : j].body, fronts[inOrder ? j : i].body);
            }
    std::sort(pairs.begin(), pairs.end(), [&](const auto& a, const auto& b) {
        return std::tuple(order(a.second), a.second, a.first) < std::tuple(order(b.second), b.second, b.first);
    });
    std::vector<int> steps(bodies.bodies.size(), 0);
    std::set<std::pair<std::string, std::string>> told;
    for (const auto& [before, behind] : pairs) {
        steps[behind] = std::max(steps[behind], steps[before] + 1);
        const std::string &a = bodies.bodies[before].piece, &b = bodies.bodies[behind].piece;
        if (!told.insert({a, b}).second)
            continue;
        const auto name = [&](const std::string& piece) { return titleOf(work.pieces.items.at(piece)); };
        bodies.notes.push_back(
            {"coplanar",
             a == b
                 ? fmt::format("Faces of \"{}\" and its copies lie in one plane; the piece is shown in front of them", name(a))
                 : fmt::format("Faces of \"{}\" and \"{}\" lie in one plane; the first in the order of pieces is shown", name(a), name(b)),
             placeOf({a})});
    }
    for (std::size_t i = 0; i < steps.size(); ++i)
        if (steps[i] > 0) {
            base::Pose& pose = bodies.bodies[i].pose;
            pose.origin = pose.origin - pose.out * (kBehindPt * steps[i]);
        }
}

}  // namespace work
