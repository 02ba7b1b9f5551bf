// The analytic ground.
#pragma once

#include "base/lanes.h"
#include "render/scene.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it

struct GroundHits {
    Mask met;
    Wide distance;
    V3<Wide> point, normal;
    Wide rise;  // 0 floor, 1 wall; between them in the bend of a sweep, where the floor's material turns into the wall's
};

namespace ground {

typedef double DoubleLanes __attribute__((vector_size(8 * kLanes), aligned(8 * kLanes)));

[[gnu::always_inline]] inline DoubleLanes exact(Wide a)
{
    return __builtin_convertvector(a.v, DoubleLanes);
}

[[gnu::always_inline]] inline Wide rounded(DoubleLanes a)
{
    return Wide(__builtin_convertvector(a, FloatLanes));
}

// The far crossing of the cylinder round (cy, cz), where it bends: from inside. In double precision, as rays start far from it and on it.
[[gnu::always_inline]] inline void meetBend(const Ground& g, const V3<Wide>& o, const V3<Wide>& d, Mask towards, GroundHits& hits)
{
    const DoubleLanes y = exact(o.y) - (g.floorY + g.sweepPt), z = exact(o.z) - (g.wallZ + g.sweepPt), dy = exact(d.y), dz = exact(d.z);
    const DoubleLanes a = dy * dy + dz * dz, b = y * dy + z * dz, c = y * y + z * z - g.sweepPt * g.sweepPt;
    const DoubleLanes discriminant = b * b - a * c;
    DoubleLanes t{};
    for (int i = 0; i < kLanes; ++i)
        t[i] = std::sqrt(discriminant[i]);
    t = (t - b) / a;
    const Wide hy = rounded(y + t * dy), hz = rounded(z + t * dz), distance = rounded(t);
    const auto radius = static_cast<float>(g.sweepPt);
    const Mask met = towards & (rounded(discriminant) > 0) & (rounded(a) > 1e-12f) & (hy < 0) & (hz < 0) & (distance > 1e-6f * radius) &
                     (distance < hits.distance);
    const Wide length2 = hy * hy + hz * hz, length = root(length2);
    hits.met = hits.met | met;
    hits.distance = select(met, distance, hits.distance);
    hits.normal = select(met, V3<Wide>{0, -hy / length, -hz / length}, hits.normal);
    hits.rise = select(met, hz * hz / length2, hits.rise);
}

}  // namespace ground

// First hits of rays (unit directions) with the ground nearer than `farthest`.
[[gnu::always_inline]] inline GroundHits intersectGround(const Ground& g, const V3<Wide>& o, const V3<Wide>& d, const Wide& farthest)
{
    GroundHits hits;
    hits.distance = farthest;
    // Wall, floor and bend face up or towards the viewer: a ray that goes both ways away meets none.
    const Mask towards = (d.y < 0) | (d.z < 0);
    if (g.kind == GroundKind::None || !any(towards))
        return hits;
    const bool sweep = g.kind == GroundKind::Sweep && g.sweepPt > 0;
    const auto wallZ = static_cast<float>(g.wallZ), floorY = static_cast<float>(g.floorY),
               radius = sweep ? static_cast<float>(g.sweepPt) : 0;
    Mask onWall, onFloor;
    if (g.kind != GroundKind::Floor) {
        const Wide t = (wallZ - o.z) / d.z;
        onWall = (d.z < -1e-9f) & (t > 0) & (t < hits.distance);
        if (g.kind != GroundKind::Wall)
            onWall = onWall & (o.y + t * d.y >= floorY + radius);
        hits.distance = select(onWall, t, hits.distance);
        hits.normal.z = select(onWall, Wide(1), Wide(0));
        hits.rise = hits.normal.z;
    }
    if (g.kind != GroundKind::Wall) {
        const Wide t = (floorY - o.y) / d.y;
        onFloor = (d.y < -1e-9f) & (t > 0) & (t < hits.distance);
        if (g.kind != GroundKind::Floor)
            onFloor = onFloor & (o.z + t * d.z >= wallZ + radius);
        onWall = onWall & !onFloor;
        hits.distance = select(onFloor, t, hits.distance);
        hits.normal = select(onFloor, V3<Wide>{0, 1, 0}, hits.normal);
        hits.rise = select(onFloor, Wide(0), hits.rise);
    }
    hits.met = onWall | onFloor;
    if (sweep)
        ground::meetBend(g, o, d, towards, hits);
    // On the planes exactly, whatever rounding did to a far away start.
    hits.point = o + d * hits.distance;
    hits.point.z = select(hits.normal.z >= 1, Wide(wallZ), hits.point.z);
    hits.point.y = select(hits.normal.y >= 1, Wide(floorY), hits.point.y);
    return hits;
}

// In a straight parallel view the floor is only a line. It is folded down there: below the line, each camera ray shows the
// floor as seen from above, unshortened, from foldZ on towards the viewer (measured against the level view direction), so that
// shadows on it stay true to scale. Adds to `hits` the rays that are level and start below the floor, and says which they are; they are
// seen from above.
[[gnu::always_inline]] inline Mask intersectFoldedFloor(const Ground& g, double foldZ, const V3<Wide>& o, const V3<Wide>& d,
                                                        GroundHits& hits)
{
    if (g.kind != GroundKind::Floor && g.kind != GroundKind::Sweep)
        return {};
    const Wide below = static_cast<float>(g.floorY) - o.y;
    const Mask folded = (absolute(d.y) <= 1e-5f) & (below > 0);
    V3<Wide> point = o - d * (static_cast<float>(foldZ) + below + dot(o, d));
    point.y = static_cast<float>(g.floorY);
    hits.met = hits.met | folded;
    hits.point = select(folded, point, hits.point);
    hits.distance = select(folded, below, hits.distance);
    hits.normal = select(folded, V3<Wide>{0, 1, 0}, hits.normal);
    hits.rise = select(folded, Wide(0), hits.rise);
    return folded;
}

}  // namespace render
