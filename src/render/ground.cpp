#include "render/ground.h"

#include <cmath>

namespace render {

namespace {

// Distance to the plane coordinate = at, hit from its positive side; negative when missed.
float planeDistance(float origin, float direction, float at)
{
    return direction < -1e-9f && origin > at ? (at - origin) / direction : -1;
}

}  // namespace

bool intersectGround(const Ground& g, Vec3f o, Vec3f d, float farthest, GroundHit& hit)
{
    // Wall, floor and bend face up or towards the viewer: a ray that goes both ways away meets none.
    if (g.kind == GroundKind::None || (d.y >= 0 && d.z >= 0))
        return false;
    const bool sweep = g.kind == GroundKind::Sweep && g.sweepPt > 0;
    const auto wallZ = static_cast<float>(g.wallZ), floorY = static_cast<float>(g.floorY);
    const float radius = sweep ? static_cast<float>(g.sweepPt) : 0;
    bool found = false;
    const auto take = [&](float t, Vec3f normal, int material) {
        if (t <= 0 || t >= farthest)
            return;
        farthest = t;
        hit = {t, o + d * t, normal, -d, material, material, 0};
        found = true;
    };
    if (g.kind != GroundKind::Floor) {
        const float t = planeDistance(o.z, d.z, wallZ);
        if (t > 0 && (g.kind == GroundKind::Wall || o.y + t * d.y >= floorY + radius))
            take(t, {0, 0, 1}, g.wallMaterial);
    }
    if (g.kind != GroundKind::Wall) {
        const float t = planeDistance(o.y, d.y, floorY);
        if (t > 0 && (g.kind == GroundKind::Floor || o.z + t * d.z >= wallZ + radius))
            take(t, {0, 1, 0}, g.floorMaterial);
    }
    if (sweep) {
        // The far crossing of the cylinder round (cy, cz), where it bends: from inside.
        const double cy = g.floorY + g.sweepPt, cz = g.wallZ + g.sweepPt;
        const double y = o.y - cy, z = o.z - cz;
        const double a = double(d.y) * d.y + double(d.z) * d.z, b = y * d.y + z * d.z;
        const double c = y * y + z * z - g.sweepPt * g.sweepPt;
        const double discriminant = b * b - a * c;
        if (a > 1e-12 && discriminant > 0) {
            const double t = (-b + std::sqrt(discriminant)) / a;
            const double hy = y + t * d.y, hz = z + t * d.z;
            const bool nearer = t > 1e-6 * g.sweepPt && t < farthest;
            if (hy < 0 && hz < 0 && nearer) {
                take(static_cast<float>(t), normalized(Vec3f{0, static_cast<float>(-hy), static_cast<float>(-hz)}), g.floorMaterial);
                const auto rise = static_cast<float>(std::atan2(-hz, -hy) / (base::kPi / 2));  // 0 at the floor, 1 at the wall
                hit.materialTo = g.wallMaterial;
                hit.blend = rise * rise * (3 - 2 * rise);
            }
        }
    }
    // On the planes exactly, whatever rounding did to a far away start.
    if (found && hit.normal.z == 1)
        hit.point.z = wallZ;
    if (found && hit.normal.y == 1)
        hit.point.y = floorY;
    return found;
}

bool intersectFoldedFloor(const Ground& g, double foldZ, Vec3f o, Vec3f d, GroundHit& hit)
{
    if ((g.kind != GroundKind::Floor && g.kind != GroundKind::Sweep) || std::abs(d.y) > 1e-5f || o.y >= g.floorY)
        return false;
    const auto below = static_cast<float>(g.floorY) - o.y;
    hit.point = o - d * (static_cast<float>(foldZ) + below + dot(o, d));
    hit.point.y = static_cast<float>(g.floorY);
    hit.distance = below;
    hit.normal = hit.view = {0, 1, 0};
    hit.material = hit.materialTo = g.floorMaterial;
    hit.blend = 0;
    return true;
}

}  // namespace render
