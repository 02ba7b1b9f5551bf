#include "render/integrator.h"

#include <cmath>

#include "render/energy.h"
#include "render/frame.h"

namespace render {

namespace {

constexpr int kRouletteFrom = 3;
constexpr int kGuideMirrors = 2;

// A shading normal that can be seen from `view` and whose mirror direction leaves the facet (after A. Keller and others, The
// Iray light transport simulation and rendering system, 2017, on normals).
Vec3f usableNormal(Vec3f shading, Vec3f geometric, Vec3f view)
{
    if (dot(view, geometric) <= 0)
        return shading;
    const float cosine = dot(view, shading);
    const Vec3f mirrored = shading * (2 * cosine) - view;
    constexpr float kLowest = 0.01f;
    const float above = dot(mirrored, geometric);
    if (cosine > 0 && above >= kLowest)
        return shading;
    return normalized(view + normalized(mirrored + geometric * (kLowest - std::min(above, 0.0f) + 0.01f)));
}

Material mixed(const Material& a, const Material& b, float t)
{
    const auto mix = [t](float x, float y) { return x + (y - x) * t; };
    return {lerp(a.baseColour, b.baseColour, t), mix(a.metallic, b.metallic), mix(a.roughness, b.roughness), mix(a.specular, b.specular), 0};
}

// What the guides look through: a mirror whose picture is sharp.
bool isMirror(const Material& m)
{
    return m.metallic > 0.5f && m.roughness < 0.3f;
}

bool isFinite(Rgb c)
{
    return std::isfinite(c.x + c.y + c.z);
}

}  // namespace

// A place where light is gathered and sent on.
struct Integrator::Bounce {
    Hit hit;
    Vec3f geometric;  // on the viewer's side
    Frame frame;
    Surface surface;

    Bounce(const Hit& h, Vec3f geometricNormal, Vec3f shadingNormal, const Material& material)
        : hit(h), geometric(geometricNormal), frame(shadingNormal), surface(material, viewIn(frame, h.view))
    {
    }
    static Vec3f viewIn(const Frame& frame, Vec3f view)
    {
        Vec3f local = frame.toLocal(view);
        local.z = std::max(local.z, 1e-3f);
        return normalized(local);
    }
    // Always outside: a direction above the smooth surface but below its facet starts from the surface, not in the body.
    Vec3f start() const { return offsetPoint(hit.origin, geometric); }
};

// Follows a path to the first rough thing, for the guides.
struct Integrator::Guide {
    PixelSums& to;
    float reach;
    bool open = true;
    int mirrors = 0;
    float path = 0;  // pt so far
    Rgb tint{1, 1, 1};

    void end(Rgb albedo, Vec3f normal, float distance)
    {
        to.mirrorAlbedo = tint * albedo;
        to.mirrorNormal = normal;
        const float d = path + distance;
        to.mirrorDepth = d < kInfinity ? d / (d + reach) : 1;
        open = false;
    }
    void atHit(const Hit& hit, const Material& material, Rgb albedo)
    {
        if (!isMirror(material) || mirrors == kGuideMirrors)
            return end(albedo, hit.shading, hit.distance);
        tint *= albedo;
        path += hit.distance;
        ++mirrors;
    }
    // A light stands before what was hit, or nothing was hit: surroundings.
    void atLight(Vec3f direction, float distance) { end({1, 1, 1}, -direction, distance); }
};

PixelId idOf(const Scene& scene, const Hit& hit)
{
    PixelId id;
    if (hit.body < 0) {
        id.part = hit.geometric.y > 0.5f ? 255 : 254;
        return id;
    }
    const PlacedBody& body = scene.bodies[static_cast<std::size_t>(hit.body)];
    const std::size_t letter = body.body->letters[hit.triangle];
    id.piece = static_cast<std::uint16_t>(body.piece + 1);
    id.letter = static_cast<std::uint16_t>(letter < body.letters.size() ? body.letters[letter] + 1 : 0);
    id.part = static_cast<std::uint16_t>(static_cast<int>(body.body->parts[hit.triangle]) + 1);
    return id;
}

Integrator::Integrator(const Scene& scene, const Tracer& tracer)
    : m_scene(scene), m_tracer(tracer), m_emitters(scene), m_firstLight((scene.surroundings ? 1 : 0) + (scene.emissive ? 1 : 0))
{
    energyTables();
    float total = 0;
    for (const Light& light : scene.lights) {
        m_lights.emplace_back(light);
        m_chance.push_back(std::max(light.deskLuminance, 1e-6f));
        total += m_chance.back();
    }
    if (!m_emitters.empty()) {
        m_chance.push_back(m_chance.empty() ? 1 : *std::max_element(m_chance.begin(), m_chance.end()));
        total += m_chance.back();
    }
    for (float& chance : m_chance)
        chance /= total;
}

void Integrator::addLights(const Bounce& bounce, Sampler& sampler, Rgb throughput, bool all, PathResult& result, std::uint64_t& rays) const
{
    const std::size_t count = m_chance.size();
    if (count == 0)
        return;
    std::size_t first = 0, last = count;
    if (!all && count > 1) {
        float choice = sampler.next1();
        while (first + 1 < count && choice >= m_chance[first])
            choice -= m_chance[first++];
        last = first + 1;
    }
    int aimed = 0, open = 0;
    for (std::size_t i = first; i < last; ++i) {
        const auto [u, v] = sampler.next2();
        const bool isEmitter = i == m_lights.size();
        const EmitterSampler::Sample sample = isEmitter ? m_emitters.sample(bounce.hit.point, u, v)
                                                        : EmitterSampler::Sample{m_lights[i].sample(bounce.hit.point, u, v), {1, 1, 1}};
        const LightSample& light = sample.light;
        if (!(light.pdf > 0) || light.radiance <= 0)
            continue;
        const Vec3f local = bounce.frame.toLocal(light.direction);
        if (local.z <= 0)
            continue;
        const Surface::Value value = bounce.surface.evaluate(local);
        const float chance = all ? 1 : m_chance[i];
        const float lightPdf = light.pdf * chance;
        const Rgb radiance = isEmitter ? sample.radiance : Rgb{light.radiance, light.radiance, light.radiance};
        const Rgb share = throughput * value.f * radiance * (local.z / (lightPdf + value.pdf));
        if (largest(share) <= 0 || !isFinite(share))
            continue;
        ++rays;
        ++aimed;
        const float distance = light.distance == kInfinity ? kInfinity : light.distance * (1 - 1e-4f);
        if (m_tracer.occluded(bounce.start(), light.direction, distance))
            continue;
        ++open;
        result.entries[static_cast<std::size_t>(isEmitter ? m_firstLight - 1 : m_firstLight + static_cast<int>(i))] += share;
    }
    if (all)
        result.guides.open = aimed > 0 ? static_cast<float>(open) / static_cast<float>(aimed) : 0;
}

float Integrator::addHitLights(Vec3f origin, Vec3f direction, float farthest, Rgb throughput, float pdf, bool all, PathResult& result) const
{
    float nearest = kInfinity;
    for (std::size_t i = 0; i < m_lights.size(); ++i) {
        const LightSample light = m_lights[i].hit(origin, direction, farthest);
        if (!(light.pdf > 0))
            continue;
        nearest = std::min(nearest, light.distance);
        const float lightPdf = light.pdf * (all ? 1 : m_chance[i]);
        const Rgb share = throughput * (light.radiance * pdf / (pdf + lightPdf));
        if (isFinite(share))
            result.entries[static_cast<std::size_t>(m_firstLight) + i] += share;
    }
    return nearest;
}

// `pdf` is that of the direction that led here; 0 from the viewer.
void Integrator::addEmission(const Hit& hit, Rgb throughput, float pdf, bool all, PathResult& result) const
{
    const float cosine = dot(hit.view, hit.geometric);
    const Rgb radiance = emissionOf(m_scene.materials[static_cast<std::size_t>(hit.material)]);
    if (hit.body < 0 || cosine <= 0 || largest(radiance) <= 0)
        return;
    float weight = 1;
    if (pdf > 0)
        weight = pdf / (pdf + m_emitters.density(radiance, hit.distance, cosine) * (all ? 1 : m_chance.back()));
    const Rgb share = throughput * radiance * weight;
    if (isFinite(share))
        result.entries[static_cast<std::size_t>(m_firstLight) - 1] += share;
}

Material Integrator::materialAt(const Hit& hit) const
{
    const Material& material = m_scene.materials[static_cast<std::size_t>(hit.material)];
    return hit.blend > 0 ? mixed(material, m_scene.materials[static_cast<std::size_t>(hit.materialTo)], hit.blend) : material;
}

PixelSums Integrator::firstHit(const Ray& ray) const
{
    PixelSums guides;
    Hit hit;
    if (!m_tracer.intersect(ray.origin, ray.direction, hit, true))
        return guides;
    const bool fromBehind = dot(hit.view, hit.geometric) < 0;
    const Vec3f shading = usableNormal(fromBehind ? -hit.shading : hit.shading, fromBehind ? -hit.geometric : hit.geometric, hit.view);
    guides.alpha = 1;
    guides.depth = hit.distance;
    guides.normal = hit.shading;
    guides.albedo = Surface(materialAt(hit), Bounce::viewIn(Frame(shading), hit.view)).albedo();
    return guides;
}

void Integrator::trace(const Ray& first, Sampler& sampler, PathResult& result, std::uint64_t& rays) const
{
    result.entries.assign(m_scene.entries.size(), Rgb{});
    result.guides = {};
    result.id = {};
    Guide guide{result.guides, static_cast<float>(m_scene.camera.frameWidth)};

    Vec3f origin = first.origin, direction = first.direction;
    Rgb throughput{1, 1, 1};
    float pdf = 0;
    bool allBefore = true;   // the bounce before sampled every light
    for (int bounces = 0;; ++bounces) {
        Hit hit;
        ++rays;
        const bool found = m_tracer.intersect(origin, direction, hit, bounces == 0);
        if (bounces > 0) {
            const float light = addHitLights(origin, direction, found ? hit.distance : kInfinity, throughput, pdf, allBefore, result);
            if (guide.open && (light < kInfinity || !found))
                guide.atLight(direction, light);
        }
        if (!found) {
            if (bounces > 0 && m_scene.surroundings)
                result.entries[0] += throughput;
            return;
        }
        const bool fromBehind = dot(hit.view, hit.geometric) < 0;
        const Vec3f geometric = fromBehind ? -hit.geometric : hit.geometric;
        const Vec3f shading = usableNormal(fromBehind ? -hit.shading : hit.shading, geometric, hit.view);
        const Material material = materialAt(hit);
        if (m_scene.emissive)
            addEmission(hit, throughput, pdf, allBefore, result);
        const Bounce bounce(hit, geometric, shading, material);

        if (bounces == 0) {
            result.guides.alpha = 1;
            result.guides.depth = hit.distance;
            result.guides.normal = hit.shading;
            result.guides.albedo = bounce.surface.albedo();
            result.id = idOf(m_scene, hit);
        }
        if (guide.open)
            guide.atHit(hit, material, bounce.surface.albedo());

        const bool all = bounces == 0;
        addLights(bounce, sampler, throughput, all, result, rays);
        const auto [u, v] = sampler.next2();
        const auto [choice, survival] = sampler.next2();
        const Surface::Sample next = bounce.surface.sample(choice, u, v);
        if (!(next.pdf > 0) || !isFinite(next.weight))
            return;
        throughput *= next.weight;
        direction = normalized(bounce.frame.toWorld(next.direction));
        if (bounces + 1 >= kRouletteFrom) {
            const float chance = std::min(0.98f, largest(throughput));
            if (survival >= chance)
                return;
            throughput *= 1 / chance;
        }
        pdf = next.pdf;
        allBefore = all;
        origin = bounce.start();
    }
}

}  // namespace render
