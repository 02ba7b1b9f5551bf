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

// The bodies alone as Embree keeps them. It can serve one scene after the other while only materials, lights or the view change.
class BodyTree {
public:
    explicit BodyTree(const std::vector<PlacedBody>& bodies);
    ~BodyTree();
    BodyTree(const BodyTree&) = delete;
    BodyTree& operator=(const BodyTree&) = delete;

    // True when these are the bodies in the same places.
    bool isFor(const std::vector<PlacedBody>& bodies) const;

private:
    friend class Tracer;
    struct Structure;
    std::unique_ptr<Structure> m_structure;
};

class Tracer {
public:
    // `tree` is one for the scene's bodies; without one it is built.
    explicit Tracer(const Scene& scene, std::shared_ptr<const BodyTree> tree = nullptr);
    ~Tracer();
    Tracer(const Tracer&) = delete;
    Tracer& operator=(const Tracer&) = delete;

    // First thing a ray meets, body or ground. `camera`: the ray comes from the frame of a straight parallel view and may
    // meet the folded floor.
    bool intersect(Vec3f origin, Vec3f direction, Hit& hit, bool camera = false) const;
    // The same for kPacket neighbouring camera rays at once, nearly twice as fast. `met` says which hit something.
    static constexpr int kPacket = 8;
    void intersectCamera(const Vec3f (&origins)[kPacket], const Vec3f (&directions)[kPacket], Hit (&hits)[kPacket], bool (&met)[kPacket]) const;
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
    struct OnBody {
        float distance = 0;
        unsigned geometry = 0, triangle = 0;
        float u = 0, v = 0;
    };
    bool nearer(Vec3f origin, Vec3f direction, const OnBody* body, Hit& hit, bool camera) const;
    void fillBodyHit(const OnBody& body, Hit& hit) const;

    const Scene& m_scene;
    std::vector<RayNote>* m_notes = nullptr;
    std::shared_ptr<const BodyTree> m_tree;
    std::size_t m_triangles = 0;
};

// Index into Scene::materials of a body's triangle.
inline int materialOf(const PlacedBody& placed, std::uint32_t triangle)
{
    const solid::Body& body = *placed.body;
    const PartMaterials& materials = placed.letterMaterials.empty() ? placed.materials : placed.letterMaterials[body.letters[triangle]];
    return materials[static_cast<std::size_t>(body.parts[triangle])];
}

// A ray's start moved off a surface along its normal, by as much as float rounding at that place needs.
Vec3f offsetPoint(Vec3f point, Vec3f normal);

}  // namespace render
