#include "session/side.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace session {

namespace {

constexpr double kTouch = 0.01;      // pt
constexpr double kOvershoot = 0.03;  // em; common practice is 0.01 to 0.02
constexpr int kBins = 400;

// Andrew's monotone chain over the lowest and highest point of each of kBins columns. A. M. Andrew, 1979.
std::vector<Vec2> hull(const std::vector<Vec2>& points)
{
    base::Box2 box;
    for (const Vec2& p : points)
        box.add(p);
    if (box.empty())
        return {};
    const double width = std::max(1e-9, box.high.x - box.low.x);
    std::vector<std::optional<std::pair<Vec2, Vec2>>> bins(kBins + 1);
    const auto add = [&](std::size_t bin, Vec2 p) {
        auto& b = bins[bin];
        if (!b)
            b = {p, p};
        if (p.y < b->first.y)
            b->first = p;
        if (p.y > b->second.y)
            b->second = p;
    };
    for (const Vec2& p : points) {
        const auto bin = static_cast<std::size_t>((p.x - box.low.x) / width * kBins);
        add(bin, p);
        // Both ends are exact.
        if (p.x == box.low.x)
            add(0, p);
    }
    std::vector<Vec2> sorted;
    for (const auto& b : bins)
        if (b) {
            sorted.push_back(b->first);
            sorted.push_back(b->second);
        }
    std::sort(sorted.begin(), sorted.end(), [](Vec2 a, Vec2 b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
    const auto chain = [&](auto from, auto to) {
        std::vector<Vec2> out;
        for (; from != to; ++from) {
            while (out.size() > 1) {
                const Vec2 a = out[out.size() - 2], b = out.back(), c = *from;
                if ((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x) > 0)
                    break;
                out.pop_back();
            }
            out.push_back(*from);
        }
        out.pop_back();
        return out;
    };
    std::vector<Vec2> low = chain(sorted.begin(), sorted.end()), high = chain(sorted.rbegin(), sorted.rend());
    low.insert(low.end(), high.begin(), high.end());
    return low;
}

bool hasWall(const work::Ground& g)
{
    return g.kind == render::GroundKind::Wall || g.kind == render::GroundKind::Sweep;
}

bool hasFloor(const work::Ground& g)
{
    return g.kind == render::GroundKind::Floor || g.kind == render::GroundKind::Sweep;
}

const work::PiecePlace* placeOf(const work::WorkBodies& bodies, const std::string& piece)
{
    const auto at = std::find_if(bodies.places.begin(), bodies.places.end(), [&](const work::PiecePlace& p) { return p.id == piece; });
    return at == bodies.places.end() ? nullptr : &*at;
}

}  // namespace

std::vector<SideOutline> sideOutlines(const work::WorkBodies& bodies)
{
    std::vector<SideOutline> outlines;
    for (const work::WorkBody& b : bodies.bodies) {
        std::map<std::uint16_t, std::pair<std::vector<Vec2>, std::vector<Vec2>>> letters;
        for (std::size_t t = 0; t < b.body->triangles.size(); ++t) {
            auto& [side, above] = letters[b.body->letters[t]];
            for (const std::uint32_t v : b.body->triangles[t]) {
                const Vec3 p = b.pose.apply(toDouble(b.body->positions[v]));
                side.push_back({p.z, p.y});
                above.push_back({p.x, p.z});
            }
        }
        for (const auto& [letter, points] : letters)
            outlines.push_back({b.piece, b.letters[letter], b.copy > 0, hull(points.first), hull(points.second)});
    }
    return outlines;
}

std::vector<Contact> contactsOf(const work::Work& work, const work::WorkBodies& bodies)
{
    std::vector<Contact> contacts;
    for (std::size_t i = 0; i < bodies.places.size(); ++i) {
        const work::PiecePlace& a = bodies.places[i];
        if (a.box.empty())
            continue;
        // Round letters go a little below the line they stand on.
        const double overshoot = kOvershoot * work.pieces.items.at(a.id).sizePt();
        const auto ground = [&](const char* name, double gap, Vec3 low, Vec3 high) {
            if (gap < kTouch)
                contacts.push_back({a.id, name, {low, high}, gap < -kTouch - overshoot});
        };
        const Vec3 low = a.box.low, high = a.box.high;
        if (const double wall = -work.ground.wallBehind; hasWall(work.ground))
            ground("wall", low.z - wall, {low.x, low.y, wall}, {high.x, high.y, wall});
        if (const double floor = -work.ground.floorBelow; hasFloor(work.ground))
            ground("floor", low.y - floor, {low.x, floor, low.z}, {high.x, floor, high.z});
        for (std::size_t j = i + 1; j < bodies.places.size(); ++j) {
            const work::PiecePlace& b = bodies.places[j];
            if (b.box.empty())
                continue;
            const Vec3 from{std::max(low.x, b.box.low.x), std::max(low.y, b.box.low.y), std::max(low.z, b.box.low.z)};
            const Vec3 to{std::min(high.x, b.box.high.x), std::min(high.y, b.box.high.y), std::min(high.z, b.box.high.z)};
            const Vec3 shared = to - from;
            if (std::min({shared.x, shared.y, shared.z}) > -kTouch)
                contacts.push_back({a.id, b.id, {from, to}, std::min({shared.x, shared.y, shared.z}) > kTouch});
        }
    }
    return contacts;
}

MoveDrag::Step movedInDepth(const work::Work& start, const work::WorkBodies& bodies, const std::vector<MoveDrag::Item>& items, Vec3 by,
                            double reach)
{
    MoveDrag::Step step;
    step.work = start;
    if (items.empty())
        return step;
    const work::PiecePlace* lead = placeOf(bodies, items.back().piece);
    if (lead && !lead->box.empty() && reach > 0 && items.back().letter.empty()) {
        const auto snap = [&](double& along, std::vector<double> targets, auto line) {
            double best = reach;
            std::optional<double> to;
            for (const double t : targets)
                if (std::abs(t - along) < best) {
                    best = std::abs(t - along);
                    to = t;
                }
            if (to) {
                along = *to;
                step.lines.push_back(line(*to));
            }
        };
        std::vector<double> depths, heights;
        const Vec3 low = lead->box.low, high = lead->box.high;
        if (hasWall(start.ground))
            depths.push_back(-start.ground.wallBehind - low.z);
        if (hasFloor(start.ground))
            heights.push_back(-start.ground.floorBelow - low.y);
        for (const work::PiecePlace& other : bodies.places) {
            if (other.box.empty() || std::any_of(items.begin(), items.end(), [&](const auto& i) { return i.piece == other.id; }))
                continue;
            const Vec3 itsLow = other.box.low, itsHigh = other.box.high;
            for (const double d : {itsHigh.z - low.z, itsLow.z - high.z, itsLow.z - low.z, itsHigh.z - high.z})
                depths.push_back(d);
            for (const double d : {itsHigh.y - low.y, itsLow.y - high.y})
                heights.push_back(d);
        }
        snap(by.z, depths, [&](double d) { return SnapLine{{low.x, low.y, low.z + d}, {low.x, high.y, low.z + d}}; });
        if (by.y != 0)
            snap(by.y, heights, [&](double d) { return SnapLine{{low.x, low.y + d, low.z}, {low.x, low.y + d, high.z}}; });
        step.snapped = !step.lines.empty();
    }
    for (const MoveDrag::Item& item : items) {
        if (!item.letter.empty()) {
            step.work = nudged(step.work, {item}, by);
            continue;
        }
        work::Placement& p = step.work.pieces.items.at(item.piece).placement;
        const work::PiecePlace* place = placeOf(bodies, item.piece);
        const double middle = place ? place->middle : 0;
        const work::Ground& ground = start.ground;
        p.x += by.x;
        switch (p.stance) {
        case work::Stance::AgainstWall:
            p.y += by.y;
            if (by.z > 0)
                p = plumbed(p, ground, by.z, middle);
            break;
        case work::Stance::OnFloor:
            p.z += by.z;
            if (by.y > 0)
                p = plumbed(p, ground, by.y, middle);
            break;
        case work::Stance::Free: {
            p.y += by.y;
            p.z += by.z;
            const bool square = p.turn == 0 && p.tilt == 0;
            if (hasWall(ground) && square && p.z + ground.wallBehind <= kTouch)
                p.stance = work::Stance::AgainstWall;
            else if (hasFloor(ground) && p.tilt == 0 && p.roll == 0 && p.y - middle + ground.floorBelow <= kTouch)
                p.stance = work::Stance::OnFloor;
            break;
        }
        }
    }
    return step;
}

}  // namespace session
