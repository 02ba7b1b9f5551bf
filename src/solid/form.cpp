#include "solid/form.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"

namespace solid {

namespace {

constexpr double kLeastBorder = 0.01;  // pt

struct ProfilePoint {
    double distance, height, out = 0, up = 1;
};

// A quarter ellipse from a point: outwards it begins upright and ends level, inwards the other way round. Its own first point is left
// out where there are some already.
void addQuarter(std::vector<ProfilePoint>& points, ProfilePoint from, double w, double h, int steps, bool inwards)
{
    for (int i = points.empty() ? 0 : 1; i <= steps; ++i) {
        const double angle = base::kPi / 2 * i / steps;
        const double sine = i == steps ? 1 : std::sin(angle), cosine = i == steps ? 0 : std::cos(angle);
        const double out = (inwards ? sine : cosine) / w, up = (inwards ? cosine : sine) / h, length = std::hypot(out, up);
        points.push_back({from.distance + w * (inwards ? sine : 1 - cosine), from.height + h * (inwards ? 1 - cosine : sine), out / length,
                          up / length});
    }
}

std::vector<ProfilePoint> pointsOf(const Bevel& bevel)
{
    const double w = bevel.widthPt, h = bevel.heightPt;
    std::vector<ProfilePoint> points;
    if (bevel.profile == Profile::Chamfer) {
        const double length = std::hypot(w, h);
        return {{0, 0, h / length, w / length}, {w, h, h / length, w / length}};
    }
    const int steps = std::clamp(bevel.steps, 1, 64);
    if (bevel.profile == Profile::Terraces) {
        points.push_back({0, 0, 0, 1});
        for (int i = 1; i <= steps; ++i) {
            points.push_back({w * i / steps, h * (i - 1) / steps, 0, 1});
            points.push_back({w * i / steps, h * i / steps, 0, 1});
        }
        return points;
    }
    if (bevel.profile == Profile::Ogee) {
        const int half = (steps + 1) / 2;
        addQuarter(points, {0, 0}, w / 2, h / 2, half, false);
        addQuarter(points, {w / 2, h / 2}, w / 2, h / 2, half, true);
    } else {
        addQuarter(points, {0, 0}, w, h, steps, bevel.profile == Profile::Cove);
    }
    return points;
}

}  // namespace

std::vector<Level> levelsOf(const Bevel& bevel, const Inlay& inlay, double deepest, std::size_t& rim)
{
    std::vector<Level> levels = levelsOf(bevel);
    rim = levels.size();
    if (inlay.none())
        return levels;
    const Level top = levels.back();
    const double sunk = std::min(inlay.sunkPt, deepest), sign = sunk > 0 ? -1 : 1;
    const double edge = top.distance + std::max(inlay.borderPt, kLeastBorder);
    levels.push_back({edge, top.height, top.arc + edge - top.distance, 0, 1, 0, 1});
    std::vector<Level> inner = inlay.rimPt > 0 ? levelsOf(Bevel{inlay.rimPt, std::abs(sunk), inlay.profile, inlay.steps})
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

std::vector<Level> levelsOf(const Bevel& bevel)
{
    if (bevel.none())
        return {Level{}};
    const std::vector<ProfilePoint> points = pointsOf(bevel);
    std::vector<Level> levels;
    for (const ProfilePoint& p : points)
        levels.push_back({p.distance, p.height, 0, p.out, p.up, p.out, p.up});
    for (std::size_t i = 0; i + 1 < levels.size(); ++i) {
        const double dx = levels[i + 1].distance - levels[i].distance, dy = levels[i + 1].height - levels[i].height;
        const double length = std::hypot(dx, dy);
        levels[i + 1].arc = levels[i].arc + length;
        if (bevel.facets && bevel.profile != Profile::Terraces) {
            levels[i].outAbove = levels[i + 1].outBelow = dy / length;
            levels[i].upAbove = levels[i + 1].upBelow = dx / length;
        }
    }
    return levels;
}

}  // namespace solid
