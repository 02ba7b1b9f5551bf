#include "solid/form.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "solid/profile.h"

namespace solid {

namespace {

constexpr double kLeastBorder = 0.01;  // pt
constexpr int kMostSteps = 64;

Level smooth(double distance, double height, Vec2 outUp)
{
    return {distance, height, 0, outUp.x, outUp.y, outUp.x, outUp.y};
}

int stepsOf(int steps, double size, double tolerancePt)
{
    if (steps > 0)
        return std::min(steps, kMostSteps);
    const double turn = 2 * std::acos(1 - std::min(0.5, tolerancePt / std::max(size, 1e-9)));
    return std::clamp(static_cast<int>(std::ceil(base::kPi / 2 / turn)), 4, kMostSteps);
}

// A quarter ellipse from a point: outwards it begins upright and ends level, inwards the other way round. Its own first point is left
// out where there are some already.
void addQuarter(std::vector<Level>& levels, Vec2 from, double w, double h, int steps, bool inwards)
{
    for (int i = levels.empty() ? 0 : 1; i <= steps; ++i) {
        const double angle = base::kPi / 2 * i / steps;
        const double sine = i == steps ? 1 : std::sin(angle), cosine = i == steps ? 0 : std::cos(angle);
        const Vec2 normal = normalized(Vec2{(inwards ? sine : cosine) / w, (inwards ? cosine : sine) / h});
        levels.push_back(smooth(from.x + w * (inwards ? sine : 1 - cosine), from.y + h * (inwards ? 1 - cosine : sine), normal));
    }
}

std::vector<ProfileNode> nodesOf(const std::string& drawn, const char* otherwise)
{
    auto nodes = readProfile(drawn.empty() ? otherwise : drawn);
    if (!nodes)
        nodes = readProfile(otherwise);
    return std::move(*nodes);
}

// What is left of the way along a profile.
Vec2 normalOf(Vec2 way, double w, double h)
{
    return normalized(Vec2{way.y * h, way.x * w});
}

std::vector<Level> drawnLevels(const Bevel& bevel, double tolerancePt)
{
    const double w = bevel.widthPt, h = bevel.heightPt;
    std::vector<Level> levels;
    for (const ProfilePlace& place : flattened(nodesOf(bevel.drawn, kBead), bevel.steps, tolerancePt, {w, h})) {
        const Vec2 below = normalOf(place.before, w, h), above = normalOf(place.after, w, h);
        levels.push_back({place.p.x * w, place.p.y * h, 0, below.x, below.y, above.x, above.y});
    }
    // It ends where face and wall begin, however it was drawn.
    if (levels.front().height > 0)
        levels.insert(levels.begin(), Level{});
    if (levels.back().height < h)
        levels.push_back({w, h});
    return levels;
}

std::vector<Level> placesOf(const Bevel& bevel, double tolerancePt)
{
    const double w = bevel.widthPt, h = bevel.heightPt;
    std::vector<Level> levels;
    if (bevel.profile == Profile::Chamfer) {
        const Vec2 normal = normalized(Vec2{h, w});
        return {smooth(0, 0, normal), smooth(w, h, normal)};
    }
    if (bevel.profile == Profile::Drawn)
        return drawnLevels(bevel, tolerancePt);
    if (bevel.profile == Profile::Terraces) {
        const int count = std::clamp(bevel.steps, 1, kMostSteps);
        levels.push_back(smooth(0, 0, {0, 1}));
        for (int i = 1; i <= count; ++i) {
            levels.push_back(smooth(w * i / count, h * (i - 1) / count, {0, 1}));
            levels.push_back(smooth(w * i / count, h * i / count, {0, 1}));
        }
        return levels;
    }
    const int steps = stepsOf(bevel.steps, std::max(w, h), tolerancePt);
    if (bevel.profile == Profile::Ogee) {
        const int half = (steps + 1) / 2;
        addQuarter(levels, {0, 0}, w / 2, h / 2, half, false);
        addQuarter(levels, {w / 2, h / 2}, w / 2, h / 2, half, true);
    } else {
        addQuarter(levels, {0, 0}, w, h, steps, bevel.profile == Profile::Cove);
    }
    return levels;
}

}  // namespace

std::vector<Level> levelsOf(const Bevel& bevel, const Inlay& inlay, double deepest, double tolerancePt, std::size_t& rim)
{
    std::vector<Level> levels = levelsOf(bevel, tolerancePt);
    rim = levels.size();
    if (inlay.none())
        return levels;
    const Level top = levels.back();
    const double sunk = std::min(inlay.sunkPt, deepest), sign = sunk > 0 ? -1 : 1;
    const double edge = top.distance + std::max(inlay.borderPt, kLeastBorder);
    levels.push_back({edge, top.height, top.arc + edge - top.distance, 0, 1, 0, 1});
    std::vector<Level> inner =
        inlay.rimPt > 0 ? levelsOf(Bevel{inlay.rimPt, std::abs(sunk), inlay.profile, inlay.steps, false, inlay.drawn}, tolerancePt)
                        : std::vector<Level>{{}, {0, std::abs(sunk), std::abs(sunk), 0, 1, 0, 1}};
    levels.back().outAbove = inner.front().outAbove * sign;
    levels.back().upAbove = inner.front().upAbove;
    for (std::size_t i = 1; i < inner.size(); ++i) {
        const Level& l = inner[i];
        levels.push_back({edge + l.distance, top.height + sign * l.height, levels[rim].arc + l.arc, sign * l.outBelow, l.upBelow,
                          sign * l.outAbove, l.upAbove});
    }
    return levels;
}

std::vector<Level> levelsOf(const Bevel& bevel, double tolerancePt)
{
    if (bevel.none())
        return {Level{}};
    std::vector<Level> levels = placesOf(bevel, tolerancePt);
    for (std::size_t i = 0; i + 1 < levels.size(); ++i) {
        const double dx = levels[i + 1].distance - levels[i].distance, dy = levels[i + 1].height - levels[i].height;
        const double length = std::hypot(dx, dy);
        levels[i + 1].arc = levels[i].arc + length;
        if (bevel.facets && bevel.profile != Profile::Terraces && length > 0) {
            levels[i].outAbove = levels[i + 1].outBelow = dy / length;
            levels[i].upAbove = levels[i + 1].upBelow = dx / length;
        }
    }
    return levels;
}

std::vector<Level> sideLevels(const SlabForm& form, double height, double tolerancePt)
{
    const double slope = std::tan(base::radians(form.draft)), most = slope * height;
    const double from = std::max(0.0, -most);  // of the back's foot
    std::vector<ProfilePlace> one{{{0, 0}, {1, 0}, {1, 0}}, {{1, 0}, {1, 0}, {1, 0}}};
    const int count = form.flutes.none() ? 1 : form.flutes.count;
    const double deep = form.flutes.none() ? 0 : form.flutes.deepPt, long_ = height / count;
    if (deep > 0)
        one = flattened(nodesOf(form.flutes.drawn, kHalfRound), 0, tolerancePt, {long_, deep});
    std::vector<Level> levels;
    const auto normal = [&](Vec2 way) {
        const double up = way.x * long_;
        return normalized(Vec2{up, slope * up + way.y * deep});
    };
    for (int i = 0; i < count; ++i)
        for (const ProfilePlace& place : one) {
            const double z = (i + place.p.x) * long_;
            const Vec2 below = normal(place.before), above = normal(place.after);
            Level level{from + slope * z + place.p.y * deep, z, 0, below.x, below.y, above.x, above.y};
            if (!levels.empty()) {
                const double step = std::hypot(level.distance - levels.back().distance, level.height - levels.back().height);
                if (step < 1e-12 * height) {
                    levels.back().outAbove = above.x;
                    levels.back().upAbove = above.y;
                    continue;
                }
                level.arc = levels.back().arc + step;
            }
            levels.push_back(level);
        }
    return levels;
}

}  // namespace solid
