// What is learnt of light that metal and glass throw on other things: photons from lamps by way of them.
//
// A photon begins at a place of such a body and aims at a lamp, as paths do; it arrives from there, goes on as the material sends it, from
// one such surface to the next, and is counted where it meets something rough. Surfaces are as rough as paths find them after a wall.
#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "render/bounce.h"
#include "render/flush.h"

namespace render {

namespace {

constexpr std::size_t kPhotons = std::size_t(1) << 18, kParts = 64;  // each part by one thread
constexpr std::uint32_t kSeed = 0x7468726fu;
constexpr int kMostWays = 4;          // from one body to the next
constexpr float kLeastWorth = 0.1f;   // of a material that throws light: how much of it is metal or clear
constexpr float kRough = 0.3f;        // share of diffuse light where photons end
constexpr float kCellsPerFrame = 96;  // across

// How much of what falls on a material goes on in few directions.
float worthOf(const Scene& scene, std::size_t material)
{
    return std::max(scene.materials[material].metallic, scene.layers.empty() ? 0.0f : scene.layers[material].transmission);
}

}  // namespace

// Where photons begin: triangles by area.
struct Integrator::Thrower {
    struct Triangle {
        Vec3f corner, edge1, edge2;
    };
    std::vector<Triangle> triangles;
    std::vector<double> upTo;  // area, pt2

    explicit Thrower(const Scene& scene)
    {
        for (const PlacedBody& placed : scene.bodies) {
            const solid::Body& body = *placed.body;
            for (std::size_t t = 0; t < body.triangles.size(); ++t) {
                if (!(worthOf(scene, static_cast<std::size_t>(materialOf(placed, static_cast<std::uint32_t>(t)))) > kLeastWorth))
                    continue;
                Vec3f p[3];
                for (std::size_t i = 0; i < 3; ++i)
                    p[i] = toFloat(placed.pose.apply(toDouble(body.positions[body.triangles[t][i]])));
                const Triangle triangle{p[0], p[1] - p[0], p[2] - p[0]};
                const float twice = length(base::cross(triangle.edge1, triangle.edge2));
                if (!(twice > 0))
                    continue;
                triangles.push_back(triangle);
                upTo.push_back(area() + twice / 2.0);
            }
        }
    }

    double area() const { return upTo.empty() ? 0 : upTo.back(); }
    Vec3f at(float choice, float u, float v) const
    {
        const auto found = std::upper_bound(upTo.begin(), upTo.end(), choice * area());
        const Triangle& t = triangles[std::min(static_cast<std::size_t>(found - upTo.begin()), triangles.size() - 1)];
        const float r = std::sqrt(u);
        return t.corner + t.edge1 * (1 - r) + t.edge2 * (v * r);
    }
};

template <class Surface>
[[gnu::always_inline]] inline void Integrator::throwOn(const Thrower& from, std::size_t number,
                                                       std::vector<ThrownLight::Photon>& photons) const
{
    Packet packet;
    packet.sampler =
        SamplerOf<Wide>(BitLanes{}, BitLanes{}, reinterpret_cast<BitLanes>(WideInt::countingFrom(static_cast<int>(number)).v) * 2, kSeed);
    const Wide choice = packet.sampler.next1();
    const auto [s, t] = packet.sampler.next2();
    V3<Wide> point;
    for (int lane = 0; lane < kLanes; ++lane)
        setLane(point, lane, from.at(choice[lane], s[lane], t[lane]));
    WideInt chosen;
    const Aimed aimed = aimAtOne(packet.sampler, point, Mask::firstOf(kLanes), chosen);

    // From the lamp, or from far enough.
    const Wide away = min(aimed.distance * (1 - 1e-3f), Wide(4 * static_cast<float>(m_scene.camera.frameWidth)));
    packet.origin = point + aimed.direction * away;
    packet.direction = -aimed.direction;
    Hits hits;
    Mask alive;
    m_tracer.intersect(packet.origin, packet.direction, aimed.pdf > 0, false, hits, alive);
    const V3<Wide> off = hits.point - point;
    alive = alive & (hits.body >= 0) & (dot(off, off) < squared(1e-3f * away));
    Wide power =
        luminance(aimed.radiance) * absolute(dot(hits.view, hits.geometric)) / aimed.pdf * static_cast<float>(from.area() / kPhotons);
    for (int lane = 0; lane < kLanes; ++lane)
        if (static_cast<std::size_t>(chosen[lane]) < m_scene.lights.size())
            power.v[lane] *= m_scene.lights[static_cast<std::size_t>(chosen[lane])].deskLuminance;

    const Wide blur = kMostBlur, narrow = 1;
    for (int ways = 0; ways <= kMostWays && any(alive); ++ways) {
        Crossing crossing;
        if constexpr (Bounce<Surface>::kLayered)
            if (m_letsThrough) {
                crossing = crossingAt(packet, hits, alive);
                power *= luminance(crossing.left(hits.distance));
            }
        const V3<Wide> geometric = facing(hits, hits.geometric);
        MaterialOf<Wide> material = materialsAt(hits);
        Relief relief;
        if constexpr (Bounce<Surface>::kLayered)
            if (hasCovers())
                relief = addCovers(hits, alive, narrow, material, hits.shading);
        material.roughness = max(material.roughness, blur);
        const Bounce<Surface> bounce(*this, hits, geometric, usableNormal(facing(hits, hits.shading), geometric, hits.view), material,
                                     crossing, relief, blur, alive);
        if (ways > 0) {
            const Mask ends = alive & (bounce.surface.diffuseShare() > kRough);
            for (int lane = 0; lane < kLanes; ++lane)
                if (ends[lane] && power[lane] > 0 && std::isfinite(power[lane]))
                    photons.push_back({laneOf(hits.point, lane), laneOf(geometric, lane), laneOf(hits.view, lane), power[lane]});
            alive = alive & !ends;
        }
        const auto [u, v] = packet.sampler.next2();
        const auto next = bounce.surface.sample(packet.sampler.next1(), u, v);
        alive = alive & (((next.pdf > 0) & isFinite(luminance(next.weight))) | crossing.passes);
        power = select(crossing.passes, power, power * luminance(next.weight));
        packet.direction = select(crossing.passes, packet.direction, normalized(bounce.frame.toWorld(next.direction)));
        packet.origin = bounce.start;
        if constexpr (Bounce<Surface>::kLayered)
            if (m_letsThrough)
                cross(packet, hits, crossing, alive, crossing.passes | (next.direction.z < 0), bounce.beyond);
        Mask met;
        hits = Hits();
        m_tracer.intersect(packet.origin, packet.direction, alive, false, hits, met);
        alive = met;
    }
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Integrator::throwPlain(const Thrower& from, std::size_t number, std::vector<ThrownLight::Photon>& photons) const
{
    throwOn<SurfaceOf<Wide>>(from, number, photons);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Integrator::throwLayered(const Thrower& from, std::size_t number, std::vector<ThrownLight::Photon>& photons) const
{
    throwOn<LayeredSurfaceOf<Wide>>(from, number, photons);
}

bool Integrator::learnThrownLight(const std::stop_token& stop)
{
    const Thrower from(m_scene);
    if (m_chance.empty() || from.triangles.empty())
        return false;
    std::vector<std::vector<ThrownLight::Photon>> found(kParts);
    base::parallelFor(kParts, [&](std::size_t part) {
        const FlushToZero mode;
        constexpr std::size_t kEach = kPhotons / kParts;
        for (std::size_t i = 0; i < kEach && !stop.stop_requested(); i += kLanes)
            if (m_scene.layers.empty())
                throwPlain(from, part * kEach + i, found[part]);
            else
                throwLayered(from, part * kEach + i, found[part]);
    });
    if (stop.stop_requested())
        return false;
    std::vector<ThrownLight::Photon> photons;
    for (const std::vector<ThrownLight::Photon>& some : found)
        photons.insert(photons.end(), some.begin(), some.end());
    m_thrown = ThrownLight(photons, static_cast<float>(m_scene.camera.frameWidth) / kCellsPerFrame);
    return !m_thrown.empty();
}

}  // namespace render
