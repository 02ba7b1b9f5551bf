#include "session/under.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "render/camera.h"

namespace session {

namespace {

using base::Vec3;

// Distance along the ray, or a negative number.
double meets(Vec3 origin, Vec3 direction, Vec3 a, Vec3 b, Vec3 c)
{
    const Vec3 e1 = b - a, e2 = c - a, p = cross(direction, e2);
    const double det = dot(e1, p);
    if (std::abs(det) < 1e-12)
        return -1;
    const Vec3 t = origin - a;
    const double u = dot(t, p) / det;
    if (u < 0 || u > 1)
        return -1;
    const Vec3 q = cross(t, e1);
    const double v = dot(direction, q) / det;
    return v < 0 || u + v > 1 ? -1 : dot(e2, q) / det;
}

}  // namespace

std::vector<Target> under(const work::WorkBodies& bodies, const render::Camera& camera, base::Vec2 place)
{
    const render::Ray ray = render::cameraRay(camera, place.x, place.y);
    const Vec3 origin = toDouble(ray.origin), direction = toDouble(ray.direction);
    std::map<std::pair<std::string, std::string>, double> nearest;
    for (const work::WorkBody& body : bodies.bodies) {
        // The ray in the body's own space: poses are rotations.
        const Vec3 from = origin - body.pose.origin;
        const Vec3 o{dot(from, body.pose.right), dot(from, body.pose.up), dot(from, body.pose.out)};
        const Vec3 d{dot(direction, body.pose.right), dot(direction, body.pose.up), dot(direction, body.pose.out)};
        const auto& positions = body.body->positions;
        for (std::size_t i = 0; i < body.body->triangles.size(); ++i) {
            const auto& t = body.body->triangles[i];
            const double at = meets(o, d, toDouble(positions[t[0]]), toDouble(positions[t[1]]), toDouble(positions[t[2]]));
            if (at <= 0)
                continue;
            const auto [found, isNew] = nearest.try_emplace({body.piece, body.letters[body.body->letters[i]]}, at);
            if (!isNew)
                found->second = std::min(found->second, at);
        }
    }
    std::vector<std::pair<double, Target>> sorted;
    for (const auto& [who, at] : nearest)
        sorted.push_back({at, {who.first, who.second}});
    std::sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<Target> targets;
    for (const auto& [_, target] : sorted)
        targets.push_back(target);
    return targets;
}

}  // namespace session
