// Bodies in a ray tracing structure (Embree 3).
//
// One flat scene, one geometry for each body; masks are off. Robust traversal: without it a ray in a million slips out of a
// closed body between two triangles. All calls but the constructor are safe from several threads.
#pragma once

#include <algorithm>
#include <memory>

#include "base/progress.h"
#include "light/emitters.h"
#include "render/ground.h"
#include "render/picture_sheet.h"
#include "render/scene.h"
#include "surface/cover.h"
#include "surface/lookup.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it

// What rays meet, side by side.
struct Hits {
    Wide distance;
    V3<Wide> point;
    V3<Wide> geometric, shading;  // unit normals, outward
    V3<Wide> origin;              // where rays from here start: on the smooth surface, off the facet (J. Hanika, Hacking the
                                  // shadow terminator, Ray Tracing Gems II, 2021)
    WideInt body = -1;            // -1: ground
    WideInt triangle;
    WideInt material, materialTo;
    Wide blend;          // between the two materials
    Wide second, third;  // shares of a body's triangle's second and third corner
    V3<Wide> view;       // towards the viewer
};

// What rays see that leave a surface: `view` is 0 for all that mirrors show, 1 + e for what stands in the way of the light of entry e;
// `from` is the body they leave, -1 for wall and floor. A piece always sees itself.
struct Sight {
    WideInt view, from;
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

    // First things that the rays of `active` lanes meet, body or ground; `found` says which meet something. `camera`: the rays are
    // neighbours from the frame of a view: faster, and in a straight parallel view they may meet the folded floor. Without `sight` they see
    // everything.
    void intersect(const V3<Wide>& origins, const V3<Wide>& directions, const Mask& active, bool camera, Hits& hits, Mask& found,
                   const Sight* sight = nullptr) const;
    // Where on its surface a lane's hit lies: u and v of a body as solid::Corner says, of wall and floor the place itself.
    surface::Place placeAt(const Hits& hits, int lane) const;
    // The same for patterns.
    Cloth clothAt(const Hits& hits, int lane, Vec3f shading, float footprint) const;
    // By how much the normal turns along the surface where a lane has met a body, radians per pt: of its triangle, whichever way it is
    // most.
    float bendAt(const Hits& hits, int lane) const;
    // Where u grows on the surface, in the world: not unit, and not quite square to `shading`.
    Vec3f grainAt(const Hits& hits, int lane, Vec3f shading) const;
    // The same on the plane where pictures lie.
    surface::SheetPlace sheetAt(const Hits& hits, int lane, const Cloth& cloth, surface::PictureLies lies) const;
    // Light of a point on a body's triangle, by the shares of its second and third corner.
    Rgb lightOf(int body, std::uint32_t triangle, float second, float third) const;
    // A direction of that body in the world.
    Vec3f inWorld(const Hits& hits, int lane, Vec3f direction) const;
    // For which of the `active` lanes something stands between the point and `distances` along the ray.
    void occluded(const V3<Wide>& origins, const V3<Wide>& directions, const Wide& distances, const Mask& active, Mask& blocked,
                  const Sight* sight = nullptr) const;
    // Whether what stands in the way of an entry's light is not what mirrors show.
    bool isApart(std::size_t entry) const { return m_hidden[entry + 1] != m_hidden[0]; }
    bool hidesAny(std::size_t view) const { return std::find(m_hidden[view].begin(), m_hidden[view].end(), true) != m_hidden[view].end(); }

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
    struct OnBodies;
    struct Placed;
    struct Query;
    bool isCutOut(int body, std::uint32_t triangle, float second, float third) const;
    void meetBodies(const V3<Wide>& origins, const V3<Wide>& directions, const Mask& active, bool camera, const Sight* sight,
                    OnBodies& met) const;
    void fillBodyHits(const OnBodies& met, const Mask& which, Hits& hits) const;
    void hideBehindBodies(const V3<Wide>& origins, const V3<Wide>& directions, const Wide& distances, const Mask& which, const Sight* sight,
                          Mask& blocked) const;
    void note(const V3<Wide>& origins, const V3<Wide>& directions, const Wide* distances, const Mask& active) const;

    const Scene& m_scene;
    std::vector<Placed> m_placed;  // one for each body
    std::vector<RayNote>* m_notes = nullptr;
    std::shared_ptr<const BodyTree> m_tree;
    std::size_t m_triangles = 0;
    bool m_glued = false;                     // some material lets light through
    bool m_cutsOut = false;                   // some material has holes
    std::vector<std::vector<bool>> m_hidden;  // by view and body; none where everything is seen
};

// Index into Scene::materials of a body's triangle.
inline int materialOf(const PlacedBody& placed, std::uint32_t triangle)
{
    const solid::Body& body = *placed.body;
    const PartMaterials& materials = placed.letterMaterials.empty() ? placed.materials : placed.letterMaterials[body.letters[triangle]];
    return materials[static_cast<std::size_t>(body.parts[triangle])];
}

// Everything that gives off light: faces of bodies, outwards. O(triangles).
std::vector<light::EmissiveTriangle> emissiveTriangles(const Scene& scene);

// A ray's start moved off a surface along its normal, by as much as float rounding at that place needs.
inline V3<Wide> offsetPoint(const V3<Wide>& p, const V3<Wide>& normal)
{
    const Wide size = max(absolute(p.x), max(absolute(p.y), absolute(p.z)));
    return p + normal * (1e-4f + size * 2e-6f);
}

}  // namespace render
