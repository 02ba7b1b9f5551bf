// Bodies in a ray tracing structure (Embree 3).
//
// One flat scene, one geometry for each body; masks are off. Robust traversal: without it a ray in a million slips out of a
// closed body between two triangles. All calls but the constructor are safe from several threads.
#pragma once

#include <memory>

#include "base/progress.h"
#include "render/ground.h"
#include "render/scene.h"

namespace render {

struct Hit {
    float distance = 0;
    Vec3f point;
    Vec3f geometric, shading;   // unit normals, outward
    Vec3f origin;               // where rays from here start: on the smooth surface, off the facet (J. Hanika, Hacking the
                                // shadow terminator, Ray Tracing Gems II, 2021)
    int body = -1;              // -1: ground
    std::uint32_t triangle = 0;
    int material = 0, materialTo = 0;
    float blend = 0;            // between the two materials
    Vec3f view;                 // towards the viewer
};

class Tracer {
public:
    explicit Tracer(const Scene& scene);
    ~Tracer();
    Tracer(const Tracer&) = delete;
    Tracer& operator=(const Tracer&) = delete;

    // First thing a ray meets, body or ground. `camera`: the ray comes from the frame of a straight parallel view and may
    // meet the folded floor.
    bool intersect(Vec3f origin, Vec3f direction, Hit& hit, bool camera = false) const;
    // True when something stands between the point and `distance` along the ray.
    bool occluded(Vec3f origin, Vec3f direction, float distance) const;

    // For measurements: every ray asked for from now on is noted, by one thread only; nullptr ends it.
    struct RayNote {
        Vec3f origin, direction;
        float distance = 0;  // of a shadow ray; 0 for others
    };
    void noteRays(std::vector<RayNote>* notes) { m_notes = notes; }
    // The ray alone, without ground and shading: whether a body is met.
    bool meetsBody(const RayNote& ray) const;

    std::size_t triangleCount() const { return m_triangles; }

private:
    struct Structure;
    void fillBodyHit(const Scene& scene, Hit& hit, unsigned geometry, unsigned triangle, float u, float v) const;

    const Scene& m_scene;
    std::vector<RayNote>* m_notes = nullptr;
    std::unique_ptr<Structure> m_structure;
    std::size_t m_triangles = 0;
};

// A ray's start moved off a surface along its normal, by as much as float rounding at that place needs.
Vec3f offsetPoint(Vec3f point, Vec3f normal);

}  // namespace render
