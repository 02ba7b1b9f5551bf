#include "solid/form.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"

namespace solid {

namespace {

struct ProfilePoint {
    double distance, height, out, up;
};

std::vector<ProfilePoint> pointsOf(const Bevel& bevel)
{
    const double w = bevel.widthPt, h = bevel.heightPt;
    std::vector<ProfilePoint> points;
    if (bevel.profile == Profile::Chamfer) {
        const double length = std::hypot(w, h);
        return {{0, 0, h / length, w / length}, {w, h, h / length, w / length}};
    }
    const int steps = std::clamp(bevel.steps, 1, 64);
    for (int i = 0; i <= steps; ++i) {
        const double angle = base::kPi / 2 * i / steps;
        const double out = std::cos(angle) / w, up = std::sin(angle) / h;
        const double length = std::hypot(out, up);
        points.push_back({i == steps ? w : w * (1 - std::cos(angle)), i == steps ? h : h * std::sin(angle), out / length, up / length});
    }
    points.back().out = 0;
    points.back().up = 1;
    return points;
}

}  // namespace

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
        if (bevel.facets) {
            levels[i].outAbove = levels[i + 1].outBelow = dy / length;
            levels[i].upAbove = levels[i + 1].upBelow = dx / length;
        }
    }
    return levels;
}

}  // namespace solid
