#include "solid/triangulate.h"

namespace solid {

namespace {

struct Swept {
    MonotonePoint point;
    bool upper = true;
};

std::vector<Swept> mergedChains(std::span<const MonotonePoint> upper, std::span<const MonotonePoint> lower)
{
    std::vector<Swept> order;
    order.reserve(upper.size() + lower.size());
    order.push_back({upper.front(), true});
    std::size_t i = 1, j = 1;
    while (i + 1 < upper.size() || j + 1 < lower.size()) {
        const bool takeUpper = j + 1 >= lower.size() || (i + 1 < upper.size() && upper[i].u <= lower[j].u);
        order.push_back(takeUpper ? Swept{upper[i++], true} : Swept{lower[j++], false});
    }
    order.push_back({upper.back(), true});
    return order;
}

double turn(base::Vec2 a, base::Vec2 b, base::Vec2 c)
{
    return cross(b - a, c - b);
}

}  // namespace

void triangulateMonotone(std::span<const MonotonePoint> upper, std::span<const MonotonePoint> lower,
                         std::vector<std::array<std::uint32_t, 3>>& triangles)
{
    const std::vector<Swept> order = mergedChains(upper, lower);
    if (order.size() < 3)
        return;
    const auto emit = [&](const Swept& a, const Swept& b, const Swept& c, bool onUpper) {
        if (onUpper)
            triangles.push_back({a.point.id, b.point.id, c.point.id});
        else
            triangles.push_back({a.point.id, c.point.id, b.point.id});
    };
    std::vector<Swept> stack{order[0], order[1]};
    for (std::size_t k = 2; k < order.size(); ++k) {
        const Swept& next = order[k];
        const bool last = k + 1 == order.size();
        const bool side = stack.back().upper;
        if (last || next.upper != side) {
            for (std::size_t s = 0; s + 1 < stack.size(); ++s)
                emit(stack[s], stack[s + 1], next, side);
            const Swept top = stack.back();
            stack = {top, next};
            continue;
        }
        while (stack.size() > 1) {
            const Swept top = stack.back();
            const Swept below = stack[stack.size() - 2];
            const double t = turn(below.point.p, top.point.p, next.point.p);
            const bool samePlace = top.point.p == next.point.p;  // then the triangle is empty and does no harm
            if (!samePlace && (side ? t <= 0 : t >= 0))
                break;
            emit(below, top, next, side);
            stack.pop_back();
        }
        stack.push_back(next);
    }
}

}  // namespace solid
