#include "session/body_lines.h"

#include <cmath>
#include <numbers>
#include <unordered_map>

#include "render/camera.h"

namespace session {

namespace {

using base::Vec3;

struct Side {
    Vec3 normal;  // unit, of the body's own space
    bool faces = false;
    std::uint16_t letter = 0;
};

void addLines(const work::WorkBody& body, const render::Camera& camera, std::vector<BodyLines>& all)
{
    const auto& positions = body.body->positions;
    std::vector<Vec3> world(positions.size());
    std::vector<base::Vec2> seen(positions.size());
    std::vector<bool> ahead(positions.size());
    for (std::size_t i = 0; i < positions.size(); ++i) {
        const Vec3 p = toDouble(positions[i]);
        world[i] = body.pose.origin + body.pose.right * p.x + body.pose.up * p.y + body.pose.out * p.z;
        ahead[i] = render::project(camera, world[i], seen[i]);
    }
    const std::size_t first = all.size();
    for (const std::string& letter : body.letters)
        all.push_back({{body.piece, letter}, {}});
    const double sharp = std::cos(kCrease * std::numbers::pi / 180);
    std::unordered_map<std::uint64_t, Side> open;  // edges met once, by their ends
    open.reserve(body.body->triangles.size() * 2);
    for (std::size_t i = 0; i < body.body->triangles.size(); ++i) {
        const auto& t = body.body->triangles[i];
        const Vec3 across = cross(world[t[1]] - world[t[0]], world[t[2]] - world[t[0]]);
        const double size = length(across);
        if (size <= 0)
            continue;
        const Vec3 view = camera.perspective ? world[t[0]] - camera.eye : camera.forward;
        const Side side{across * (1 / size), dot(across, view) < 0, body.body->letters[i]};
        for (int c = 0; c < 3; ++c) {
            const std::uint64_t a = t[static_cast<std::size_t>(c)], b = t[static_cast<std::size_t>((c + 1) % 3)];
            const std::uint64_t key = std::min(a, b) << 32 | std::max(a, b);
            const auto met = open.find(key);
            if (met == open.end()) {
                open.emplace(key, side);
                continue;
            }
            const bool drawn = met->second.faces != side.faces || (dot(met->second.normal, side.normal) < sharp);
            if (drawn && ahead[a] && ahead[b])
                all[first + side.letter].lines.push_back({seen[a], seen[b]});
            open.erase(met);
        }
    }
}

}  // namespace

std::vector<BodyLines> linesOf(const work::WorkBodies& bodies, const render::Camera& camera)
{
    std::vector<BodyLines> all;
    for (const work::WorkBody& body : bodies.bodies)
        addLines(body, camera, all);
    std::erase_if(all, [](const BodyLines& lines) { return lines.lines.empty(); });
    return all;
}

}  // namespace session
