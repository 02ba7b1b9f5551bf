// Light transport: paths, kLanes side by side, from the first hit to their end.
#pragma once

#include <array>
#include <stop_token>
#include <vector>

#include "film/film.h"
#include "light/emitters.h"
#include "light/light.h"
#include "render/sampler.h"
#include "render/thrown_light.h"
#include "render/tracer.h"
#include "surface/layered.h"
#include "surface/lookup.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it
using namespace film;
using namespace light;
using namespace surface;

// What a hit shows.
PixelId idOf(const Scene& scene, const Hits& hits, int lane);

// Paths that are traced together, and what they have brought. Memory of one thread, used again and again.
class PathBatch {
public:
    static constexpr int kSize = 512;

    // `pixelPt`: width of a pixel in the plane of the camera's frame; what is finer in patterns and pictures is not resolved.
    PathBatch(const Scene& scene, float pixelPt);

    void clear() { m_count = 0; }
    // The next `count` paths, kLanes at most; only the last call before trace() may bring fewer than kLanes.
    void add(const V3<Wide>& origins, const V3<Wide>& directions, const SamplerOf<Wide>& samplers, int count);

    // Of a traced path, counted from 0 in the order of adding.
    const Rgb* light(int path) const
    {
        return m_light.data() + static_cast<std::size_t>(path) * m_entries;
    }  // one for each of Scene::entries, light at brightness 1
    std::size_t entryCount() const { return m_entries; }
    const PixelSums& guides(int path) const { return m_guides[static_cast<std::size_t>(path)]; }
    const PixelId& id(int path) const { return m_ids[static_cast<std::size_t>(path)]; }
    // What it shows first has a relief: normals that differ are no edge.
    bool isRelief(int path) const { return m_reliefs[static_cast<std::size_t>(path)] != 0; }

private:
    friend class Integrator;
    // Paths on their way.
    struct Packet {
        V3<Wide> origin, direction, throughput{1, 1, 1};
        Wide pdf;         // of the direction; 0 from the viewer
        Wide surfacePdf;  // the same as its surface alone would have drawn it
        SamplerOf<Wide> sampler;
        WideInt path;         // number in the batch
        WideInt leaves = -1;  // body that it comes from; -1: wall or floor
        // Solids that let light through and that it is in, the one entered last first: their places among the bodies, and what they are of.
        static constexpr int kMostMedia = 4;
        std::array<WideInt, kMostMedia> inBody = outside(), inMaterial = outside();
        // The cone of directions it stands for (T. Akenine-Moller and others, Texture level of detail strategies for real-time ray tracing,
        // 2019): its width where it starts, in pt, and what that grows by along the way.
        Wide width, spread;
        Wide blur, mostBlur;  // roughness that surfaces it meets have at least, and what that may become
        // On the way to the first rough thing, for the guides; mirrors so far, -1 when it is reached.
        WideInt mirrors;
        Wide mirrorPath;  // pt so far
        V3<Wide> tint{1, 1, 1};

        static std::array<WideInt, kMostMedia> outside();
        void takeLane(int to, const Packet& from, int lane);
        void enter(int lane, int body, int material);
        void leave(int lane, int body);  // nothing where it is not in it
    };

    std::size_t m_entries;
    float m_width, m_spread;  // of the cones at the camera
    int m_count = 0;
    std::vector<Packet> m_packets;
    std::vector<Rgb> m_light;
    std::vector<PixelSums> m_guides;
    std::vector<PixelId> m_ids;
    std::vector<std::uint8_t> m_reliefs;
};

// Unidirectional path tracer with next-event estimation and multiple importance sampling (power heuristic, E. Veach 1997);
// every light is sampled at the first hit, one of them, by its share in the picture, further on. Paths end by roulette. Nothing is
// cut off: a bright sample counts in full. What a path brings does not depend on those beside it.
//
// What a path meets after something rough is seen by the cone of directions it stands for: mirrors and glass are as rough as that
// (A. Kaplanyan and C. Dachsbacher, Path space regularization for robust transport, 2013), so that the light they throw on other things
// is found. It is as bright as it is, and softer; the more samples a pixel has the less so, as n^(-1/6) in alpha, so that pictures become
// exact in the end. What the viewer sees in mirrors themselves stays sharp, but for what a bend squeezes into less than a pixel.
class Integrator {
public:
    Integrator(const Scene& scene, const Tracer& tracer);

    // Traces the paths of the batch to their ends. Safe from several threads. Returns how many rays it took.
    std::uint64_t trace(PathBatch& batch) const;
    // Learns where light comes from that metal and glass throw on other things, so that trace() chooses directions by it. For many samples:
    // it takes as long as some 500,000 rays. The same scene gives the same. False where there is nothing to learn, or it was asked to stop.
    bool learnThrownLight(const std::stop_token& stop = {});
    // What is seen first, without light: coverage, albedo, normal and distance of the guides.
    void firstHits(const V3<Wide>& origins, const V3<Wide>& directions, float pixelPt, PixelSums (&guides)[kLanes]) const;

private:
    using Packet = PathBatch::Packet;
    template <class Surface>
    struct Bounce;
    struct Aimed;
    struct Crossing;
    struct Relief;
    // Takes the paths of a packet one hit further; `alive` are those that go on. In scenes with layers, and where there are none.
    void advance(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const;
    void advancePlain(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const;
    void advanceLayered(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const;
    template <class Surface>
    void advanceOn(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const;
    // What is between a packet's origins and what they met, and what is beyond. The top of the solids it is in holds: of two that overlap
    // that is the one entered last (as with the priorities of C. Schmidt and B. Budge, Simple nested dielectrics in ray traced images,
    // 2002).
    Crossing crossingAt(const Packet& packet, const Hits& hits, const Mask& alive) const;
    MaterialOf<Wide> materialsAt(const Hits& hits) const;
    // Gives materials their pictures and patterns, and the relief to the normals; `footprint` is in pt.
    // Returns which have a relief.
    Relief addCovers(const Hits& hits, const Mask& alive, const Wide& footprint, MaterialOf<Wide>& material, V3<Wide>& shading) const;
    template <class Surface>
    Surface surfaceAt(const Hits& hits, const MaterialOf<Wide>& material, const FrameOf<Wide>& frame, const Crossing& crossing,
                      const Relief& relief, const Wide& blur) const;
    // Round the normals that are seen; of brushed materials with x along their grain.
    template <class Surface>
    FrameOf<Wide> frameAt(const Hits& hits, const Mask& alive, const V3<Wide>& shading) const;
    template <class Surface>
    void addLights(PathBatch& batch, Packet& packet, const Bounce<Surface>& bounce, const Mask& alive, bool all, std::uint64_t& rays) const;
    // `tried`: where the light is aimed at; `open`: where it is seen as well.
    template <class Surface>
    void addLight(PathBatch& batch, const Packet& packet, const Bounce<Surface>& bounce, const Aimed& aimed, const Mask& alive, Mask& tried,
                  Mask& open, std::uint64_t& rays) const;
    Aimed aimAt(int light, const V3<Wide>& point, const Wide& u, const Wide& v) const;
    // At one of the lights, by their chances; `chosen` gets which.
    Aimed aimAtOne(SamplerOf<Wide>& sampler, const V3<Wide>& point, const Mask& alive, WideInt& chosen) const;
    // --- light that bodies throw (throwing.cpp)
    struct Thrower;
    template <class Surface>
    void throwOn(const Thrower& from, std::size_t number, std::vector<ThrownLight::Photon>& photons) const;
    void throwPlain(const Thrower& from, std::size_t number, std::vector<ThrownLight::Photon>& photons) const;
    void throwLayered(const Thrower& from, std::size_t number, std::vector<ThrownLight::Photon>& photons) const;
    // --- where not everybody casts on everybody (casting.cpp)
    bool casts() const { return !m_isApart.empty(); }
    void findApart();
    // Of ways to lights of these entries from these bodies, whose directions surfaces sample with density `pdf`: what they see, which are
    // worth it, and the part they have beside ways that were not aimed.
    void aimCasting(const WideInt& entries, const WideInt& bodies, const Wide& pdf, Sight& sight, Mask& tried, Wide& part) const;
    // Which of `active` paths see an entry's light that is `distance` ahead; `met` is how far the next thing is that mirrors show.
    void seeEntry(const Packet& packet, int entry, const Wide& distance, const Wide& met, const Mask& active, Mask& seen) const;
    // Light of emissive materials that a path has met: `weight` holds how much of it counts where everybody casts on everybody.
    void weighEmission(const Packet& packet, Wide& weight) const;
    bool isUnlit(int entry, int body) const;

    // `nearest` gets the distance to the nearest light that a ray has met, infinite if it has met none.
    void addHitLights(PathBatch& batch, const Packet& packet, const Crossing& crossing, const Wide& farthest, const Mask& active, bool all,
                      Wide& nearest) const;
    // Of rays that see it.
    void addSky(PathBatch& batch, const Packet& packet, const Mask& lost, bool all) const;
    void addOwnCards(PathBatch& batch, const Packet& packet, const V3<Wide>& directions, const V3<Wide>& share, const Mask& where) const;
    void addEmission(PathBatch& batch, const Packet& packet, const Hits& hits, const Mask& alive, int bounces) const;
    bool hasCovers() const { return !m_scene.covers.empty(); }
    // Takes paths that go through to their other side.
    static void cross(Packet& packet, const Hits& hits, const Crossing& crossing, const Mask& alive, const Mask& through,
                      const V3<Wide>& beyond);
    void followGuide(PathBatch& batch, Packet& packet, const Mask& where, const V3<Wide>& albedo, const V3<Wide>& normal,
                     const Wide& distance) const;
    static void addTo(PathBatch& batch, const Packet& packet, const Mask& where, const WideInt& entries, const V3<Wide>& light);

    const Scene& m_scene;
    const Tracer& m_tracer;
    std::vector<LightSampler> m_lights;
    EmitterSampler m_emitters;
    // Of being chosen at later hits: the lights, then emissive materials if there are any, then surroundings that differ by direction.
    std::vector<float> m_chance;
    std::vector<int> m_lightEntries;  // of the film, for each light
    int m_surroundingsEntry = 0, m_emissiveEntry = 0;
    int m_skyIndex = -1;           // in m_chance
    int m_ownCards = 0;            // of the sky: their entries follow that of the surroundings
    bool m_letsThrough = false;    // some material does
    bool m_brushed = false;        // some is
    bool m_picturedLight = false;  // some gives off light that a picture changes
    ThrownLight m_thrown;
    std::vector<bool> m_isApart;  // by entry: what keeps its light off is not what mirrors show
};

}  // namespace render
