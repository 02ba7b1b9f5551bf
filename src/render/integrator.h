// Light transport: one path through one pixel.
#pragma once

#include <vector>

#include "render/camera.h"
#include "render/emitters.h"
#include "render/film.h"
#include "render/light.h"
#include "render/sampler.h"
#include "render/tracer.h"

namespace render {

// What a hit shows.
PixelId idOf(const Scene& scene, const Hit& hit);

// What one sample brings.
struct PathResult {
    std::vector<Rgb> entries;  // one for each of Scene::entries, light at brightness 1
    PixelSums guides;
    PixelId id;
};

// Unidirectional path tracer with next-event estimation and multiple importance sampling (balance heuristic, E. Veach 1997);
// every light is sampled at the first hit, one of them, by its share in the picture, further on. Paths end by roulette. Nothing is
// cut off: a bright sample counts in full.
class Integrator {
public:
    Integrator(const Scene& scene, const Tracer& tracer);

    // Traces the path through the pixel for one sample. Safe from several threads. `rays` counts rays traced.
    void trace(const Ray& ray, Sampler& sampler, PathResult& result, std::uint64_t& rays) const;
    // What is seen first, without light: coverage, albedo, normal and distance of the guides.
    PixelSums firstHit(const Ray& ray) const;

private:
    struct Bounce;
    Material materialAt(const Hit& hit) const;
    struct Guide;
    void addLights(const Bounce& bounce, Sampler& sampler, Rgb throughput, bool all, PathResult& result, std::uint64_t& rays) const;
    // Distance to the nearest light that the ray has met, infinite if it has met none.
    float addHitLights(Vec3f origin, Vec3f direction, float farthest, Rgb throughput, float pdf, bool all, PathResult& result) const;
    void addEmission(const Hit& hit, Rgb throughput, float pdf, bool all, PathResult& result) const;

    const Scene& m_scene;
    const Tracer& m_tracer;
    std::vector<LightSampler> m_lights;
    EmitterSampler m_emitters;
    std::vector<float> m_chance;  // of being chosen at later hits: the lights, then emissive materials if there are any
    int m_firstLight = 0;         // entry of light 0; that of emissive materials is the one before
};

}  // namespace render
