#include "render/integrator.h"

#include <algorithm>
#include <cmath>
#include <type_traits>

#include "base/frame.h"

namespace render {

namespace {

// Paths of so many bounces end by chance when they carry less than this: what survives would else be as bright as what one sees at first
// hand, and speckle. (Of the scenes of bench/noise.cpp a quarter of the error goes for a twentieth more time.)
constexpr int kRouletteFrom = 3;
constexpr float kRouletteBelow = 0.5f;
constexpr int kGuideMirrors = 2, kGuideWindows = 6;
constexpr float kCertain = 1e18f;  // the density of a direction that no light could have been aimed in

constexpr float kBlurredSamples = 64;  // from about so many on it becomes less
constexpr float kMostBlur = 0.3f;      // roughness, after a white wall

// The part that a sample drawn with density `own` has beside one that could have been drawn with `other`.
[[gnu::always_inline]] inline Wide partOf(const Wide& own, const Wide& other)
{
    const Wide ratio = other / own;
    return 1 / (1 + ratio * ratio);
}

// Roughness by the density of the direction that was drawn: a cone of the solid angle 1 / pdf has alpha about as its radius.
[[gnu::always_inline]] inline Wide blurAfter(const Wide& pdf, const Wide& most)
{
    const Wide fourth = min(Wide(1), 1 / (max(pdf, Wide(1e-6f)) * kPiFloat));  // of a wall 1, straight up
    return most * root(root(fourth));
}

// What is smaller than a pixel on a surface that bends is seen as a whole: roughness by how much the normal turns within a quarter of it
// (after Y. Tokuyoshi and A. Kaplanyan, Improved geometric specular antialiasing, 2019, whose kernel is the pixel).
float blurOfBend(float turned)
{
    constexpr float kPart = 0.25f, kMostAlpha2 = 0.18f;
    return std::sqrt(std::sqrt(std::min(2 * squared(kPart * turned), kMostAlpha2)));
}

// Shading normals that can be seen from `view` and whose mirror direction leaves the facet (after A. Keller and others, The
// Iray light transport simulation and rendering system, 2017, on normals).
V3<Wide> usableNormal(const V3<Wide>& shading, const V3<Wide>& geometric, const V3<Wide>& view)
{
    constexpr float kLowest = 0.01f;
    const Wide cosine = dot(view, shading);
    const V3<Wide> mirrored = shading * (2 * cosine) - view;
    const Wide above = dot(mirrored, geometric);
    const Mask usable = (dot(view, geometric) <= 0) | ((cosine > 0) & (above >= kLowest));
    return select(usable, shading, normalized(view + normalized(mirrored + geometric * (kLowest + 0.01f - min(above, Wide(0))))));
}

// A normal on the viewer's side of the facet.
V3<Wide> facing(const Hits& hits, const V3<Wide>& normal)
{
    return select(dot(hits.view, hits.geometric) < 0, -normal, normal);
}

// Of two that go over into each other, the one that is more there.
int nearerMaterial(const Hits& hits, int lane)
{
    return hits.blend[lane] > 0.5f ? hits.materialTo[lane] : hits.material[lane];
}

V3<Wide> viewIn(const FrameOf<Wide>& frame, const V3<Wide>& view)
{
    V3<Wide> local = frame.toLocal(view);
    local.z = max(local.z, Wide(1e-3f));
    return normalized(local);
}

// A look with its pattern; the normal it has then.
Vec3f withPattern(const Pattern& pattern, const Cloth& cloth, Look& look)
{
    const Look base = look;
    look = patterned(pattern, base, cloth.place);
    return relievedNormal(pattern, base, cloth.place, cloth.along, cloth.du, cloth.dv, look);
}

// Width and spread of the cone of a camera's pixel.
std::pair<float, float> pixelCone(const Camera& camera, float pixelPt)
{
    return camera.perspective ? std::pair(0.0f, pixelPt / static_cast<float>(camera.frameDistance)) : std::pair(pixelPt, 0.0f);
}

}  // namespace

PathBatch::PathBatch(const Scene& scene, float pixelPt)
    : m_entries(scene.entries.size()),
      m_width(pixelCone(scene.camera, pixelPt).first),
      m_spread(pixelCone(scene.camera, pixelPt).second),
      m_packets(kSize / kLanes),
      m_light(m_entries * kSize),
      m_guides(kSize),
      m_ids(kSize),
      m_reliefs(kSize)
{
}

void PathBatch::add(const V3<Wide>& origins, const V3<Wide>& directions, const SamplerOf<Wide>& samplers, int count)
{
    Packet& packet = m_packets[static_cast<std::size_t>(m_count / kLanes)];
    packet = Packet();
    packet.origin = origins;
    packet.direction = directions;
    packet.sampler = samplers;
    packet.width = m_width;
    packet.spread = m_spread;
    packet.path = WideInt::countingFrom(m_count);
    const Wide number = asFloat(samplers.number());
    for (int lane = 0; lane < kLanes; ++lane)
        packet.mostBlur.v[lane] = kMostBlur * std::pow(1 + number[lane] / kBlurredSamples, -1.0f / 12);
    m_count += count;
}

void PathBatch::Packet::takeLane(int to, const Packet& from, int lane)
{
    const auto take = [&](Wide& a, const Wide& b) { a.v[to] = b.v[lane]; };
    const auto takeAll = [&](V3<Wide>& a, const V3<Wide>& b) {
        take(a.x, b.x);
        take(a.y, b.y);
        take(a.z, b.z);
    };
    takeAll(origin, from.origin);
    takeAll(direction, from.direction);
    takeAll(throughput, from.throughput);
    take(pdf, from.pdf);
    sampler.takeLane(to, from.sampler, lane);
    path.v[to] = from.path.v[lane];
    leaves.v[to] = from.leaves.v[lane];
    mirrors.v[to] = from.mirrors.v[lane];
    for (int i = 0; i < kMostMedia; ++i) {
        inBody[i].v[to] = from.inBody[i].v[lane];
        inMaterial[i].v[to] = from.inMaterial[i].v[lane];
    }
    take(width, from.width);
    take(spread, from.spread);
    take(blur, from.blur);
    take(mostBlur, from.mostBlur);
    take(mirrorPath, from.mirrorPath);
    takeAll(tint, from.tint);
}

std::array<WideInt, PathBatch::Packet::kMostMedia> PathBatch::Packet::outside()
{
    std::array<WideInt, kMostMedia> none;
    none.fill(kOutside);
    return none;
}

void PathBatch::Packet::enter(int lane, int body, int material)
{
    for (int i = kMostMedia - 1; i > 0; --i) {
        inBody[i].v[lane] = inBody[i - 1].v[lane];
        inMaterial[i].v[lane] = inMaterial[i - 1].v[lane];
    }
    inBody[0].v[lane] = body;
    inMaterial[0].v[lane] = material;
}

void PathBatch::Packet::leave(int lane, int body)
{
    int at = 0;
    while (at < kMostMedia && inBody[at].v[lane] != body)
        ++at;
    for (int i = at; i < kMostMedia; ++i) {
        inBody[i].v[lane] = i + 1 < kMostMedia ? inBody[i + 1].v[lane] : kOutside;
        inMaterial[i].v[lane] = i + 1 < kMostMedia ? inMaterial[i + 1].v[lane] : kOutside;
    }
}

// From one medium to the next. Where no material lets light through, nothing of it is filled in.
struct Integrator::Crossing {
    V3<Wide> absorption;  // per pt, on the way here
    Wide eta;             // index of refraction beyond over that before; 0: not into or out of a solid that lets light through
    Mask solid, behind;   // the surface is such a solid's; and is met from its inside
    Mask passes;          // the end of a solid inside another one: there is nothing to see

    // Share of light that is left after so many pt.
    V3<Wide> left(const Wide& distance) const
    {
        V3<Wide> share{1, 1, 1};
        for (int lane = 0; lane < kLanes; ++lane) {
            const Vec3f a = laneOf(absorption, lane);
            if (a.x > 0 || a.y > 0 || a.z > 0) {
                const auto of = [&](float one) { return one > 0 ? std::exp(-one * distance[lane]) : 1; };
                setLane(share, lane, {of(a.x), of(a.y), of(a.z)});
            }
        }
        return share;
    }
};

// Places where light is gathered and sent on.
template <class Surface>
struct Integrator::Bounce {
    static constexpr bool kLayered = std::is_same_v<Surface, LayeredSurfaceOf<Wide>>;
    FrameOf<Wide> frame;
    Surface surface;
    V3<Wide> point, start, beyond;  // of the rays from here: on this side, and through it
    WideInt body;

    // Always outside: a direction above the smooth surface but below its facet starts from the surface, not in the body.
    Bounce(const Integrator& integrator, const Hits& hits, const V3<Wide>& geometric, const V3<Wide>& shading,
           const MaterialOf<Wide>& material, const Crossing& crossing, const Relief& relief, const Wide& blur, const Mask& alive)
        : frame(integrator.frameAt<Surface>(hits, alive, shading)),
          surface(integrator.surfaceAt<Surface>(hits, material, frame, crossing, relief, blur)),
          point(hits.point),
          start(offsetPoint(hits.origin, geometric)),
          body(hits.body)
    {
        if constexpr (kLayered) {
            beyond = offsetPoint(hits.point, -geometric);
            // The smooth surface is outside of a facet: no start for what is inside.
            start = select(crossing.behind, offsetPoint(hits.point, geometric), start);
        }
    }
};

// Normals that a coat keeps under which a relief lies, or that are its own; and where there are such.
struct Integrator::Relief {
    V3<Wide> coat;
    Mask there;
};

// A way from each place to a light.
struct Integrator::Aimed {
    V3<Wide> direction;
    Wide distance, pdf;
    V3<Wide> radiance;
    WideInt entry;
};

PixelId idOf(const Scene& scene, const Hits& hits, int lane)
{
    PixelId id;
    if (hits.body[lane] < 0) {
        id.part = hits.geometric.y[lane] > 0.5f ? 255 : 254;
        return id;
    }
    const PlacedBody& body = scene.bodies[static_cast<std::size_t>(hits.body[lane])];
    const auto triangle = static_cast<std::size_t>(hits.triangle[lane]);
    const std::size_t letter = body.body->letters[triangle];
    id.piece = static_cast<std::uint16_t>(body.piece + 1);
    id.letter = static_cast<std::uint16_t>(letter < body.letters.size() ? body.letters[letter] + 1 : 0);
    id.part = static_cast<std::uint16_t>(static_cast<int>(body.body->parts[triangle]) + 1);
    return id;
}

Integrator::Integrator(const Scene& scene, const Tracer& tracer) : m_scene(scene), m_tracer(tracer), m_emitters(emissiveTriangles(scene))
{
    for (std::size_t i = 0; i < scene.entries.size(); ++i)
        switch (scene.entries[i].kind) {
        case film::EntryKind::Light:
            m_lightEntries.push_back(static_cast<int>(i));
            break;
        case film::EntryKind::Surroundings:
            if (i == 0 || scene.entries[i - 1].kind != film::EntryKind::Surroundings)  // its own cards follow it
                m_surroundingsEntry = static_cast<int>(i);
            break;
        case film::EntryKind::Emissive:
            m_emissiveEntry = static_cast<int>(i);
            break;
        }
    m_ownCards = scene.surroundings && scene.sky ? scene.sky->sky().ownCards() : 0;
    energyTables();
    if (!scene.layers.empty())
        layerTables();
    m_picturedLight =
        std::any_of(scene.covers.begin(), scene.covers.end(), [](const Cover& c) { return c.pictures.colour || c.pictures.light; });
    m_brushed = std::any_of(scene.layers.begin(), scene.layers.end(), [](const Layers& l) { return l.anisotropy > 0; });
    if (m_brushed)
        anisotropyTables();
    m_letsThrough = std::any_of(scene.layers.begin(), scene.layers.end(), [](const Layers& l) { return l.letsThrough(); });
    if (m_letsThrough)
        glassTables();
    if (scene.casts())
        findApart();
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
    if (scene.surroundings && scene.sky) {
        m_skyIndex = static_cast<int>(m_chance.size());
        m_chance.push_back(m_chance.empty() ? 1 : *std::max_element(m_chance.begin(), m_chance.end()));
        total += m_chance.back();
    }
    for (float& chance : m_chance)
        chance /= total;
}

[[gnu::always_inline]] inline void Integrator::addTo(PathBatch& batch, const Packet& packet, const Mask& where, const WideInt& entries,
                                                     const V3<Wide>& light)
{
    const Mask finite = where & isFinite(light.x + light.y + light.z);
    if (!any(finite))
        return;
    for (int lane = 0; lane < kLanes; ++lane)
        if (finite[lane])
            batch.m_light[static_cast<std::size_t>(packet.path[lane]) * batch.m_entries + static_cast<std::size_t>(entries[lane])] +=
                laneOf(light, lane);
}

[[gnu::always_inline]] inline Integrator::Aimed Integrator::aimAt(int light, const V3<Wide>& point, const Wide& u, const Wide& v) const
{
    if (light < static_cast<int>(m_lights.size())) {
        const LightSampleOf<Wide> s = m_lights[static_cast<std::size_t>(light)].sample(point, u, v);
        return {s.direction,
                s.distance,
                select(s.radiance > 0, s.pdf, Wide(0)),
                {s.radiance, s.radiance, s.radiance},
                m_lightEntries[static_cast<std::size_t>(light)]};
    }
    if (light == m_skyIndex) {
        const light::SkyMap::SamplesWide s = m_scene.sky->sampleAll(u, v);
        return {s.direction, kInfinity, s.pdf, s.radiance, m_surroundingsEntry};
    }
    EmitterSampler::SamplesWide s = m_emitters.sampleAll(point, u, v);
    if (m_picturedLight)
        for (int lane = 0; lane < kLanes; ++lane)
            if (s.pdf[lane] > 0)
                setLane(s.radiance, lane,
                        m_tracer.lightOf(s.body[lane], static_cast<std::uint32_t>(s.triangle[lane]), s.second[lane], s.third[lane]));
    return {s.direction, s.distance, s.pdf, s.radiance, m_emissiveEntry};
}

template <class Surface>
[[gnu::always_inline]] inline void Integrator::addLight(PathBatch& batch, const Packet& packet, const Bounce<Surface>& bounce,
                                                        const Aimed& aimed, const Mask& alive, Mask& tried, Mask& open,
                                                        std::uint64_t& rays) const
{
    const V3<Wide> local = bounce.frame.toLocal(aimed.direction);
    tried = alive & (aimed.pdf > 0);
    Wide cosine = local.z;
    V3<Wide> start = bounce.start;
    if constexpr (Bounce<Surface>::kLayered) {
        const Mask through = (local.z < 0) & bounce.surface.letsThrough();
        cosine = select(through, -local.z, local.z);
        start = select(through, bounce.beyond, bounce.start);
    }
    tried = tried & (cosine > 0);
    open = {};
    if (!any(tried))
        return;
    const auto value = bounce.surface.evaluate(local);
    Wide part = partOf(aimed.pdf, value.pdf);
    Sight sight;
    if (casts())
        aimCasting(aimed.entry, bounce.body, value.pdf, sight, tried, part);
    const V3<Wide> share = packet.throughput * value.f * aimed.radiance * (cosine / aimed.pdf * part);
    tried = tried & (largest(share) > 0);
    if (!any(tried))
        return;
    rays += static_cast<std::uint64_t>(countOf(tried));
    Mask blocked;
    m_tracer.occluded(start, aimed.direction, aimed.distance * (1 - 1e-4f), tried, blocked, casts() ? &sight : nullptr);
    open = tried & !blocked;
    if (m_ownCards == 0) {
        addTo(batch, packet, open, aimed.entry, share);
        return;
    }
    const Mask sky = open & (aimed.entry == m_surroundingsEntry);
    addTo(batch, packet, open & !sky, aimed.entry, share);
    if (any(sky)) {
        const V3<Wide> each = packet.throughput * value.f * (cosine / aimed.pdf * part);
        addTo(batch, packet, sky, m_surroundingsEntry, each * m_scene.sky->look(aimed.direction, sky).radiance);
        addOwnCards(batch, packet, aimed.direction, each, sky);
    }
}

template <class Surface>
[[gnu::always_inline]] inline void Integrator::addLights(PathBatch& batch, Packet& packet, const Bounce<Surface>& bounce, const Mask& alive,
                                                         bool all, std::uint64_t& rays) const
{
    const int count = static_cast<int>(m_chance.size());
    if (count == 0)
        return;
    Mask tried, open;
    if (all) {
        Wide aims, seen;
        for (int i = 0; i < count; ++i) {
            const auto [u, v] = packet.sampler.next2();
            addLight(batch, packet, bounce, aimAt(i, bounce.point, u, v), alive, tried, open, rays);
            aims += select(tried, Wide(1), Wide(0));
            seen += select(open, Wide(1), Wide(0));
        }
        for (int lane = 0; lane < kLanes; ++lane)
            if (alive[lane])
                batch.m_guides[static_cast<std::size_t>(packet.path[lane])].open = aims[lane] > 0 ? seen[lane] / aims[lane] : 0;
        return;
    }
    WideInt chosen;
    if (count > 1) {
        Wide choice = packet.sampler.next1();
        for (int i = 0; i + 1 < count; ++i) {
            const Mask further = (chosen == i) & (choice >= m_chance[static_cast<std::size_t>(i)]);
            choice -= select(further, Wide(m_chance[static_cast<std::size_t>(i)]), Wide(0));
            chosen = select(further, chosen + 1, chosen);
        }
    }
    const auto [u, v] = packet.sampler.next2();
    Aimed aimed;
    for (int i = 0; i < count; ++i) {
        const Mask these = alive & (chosen == i);
        if (!any(these))
            continue;
        const Aimed a = aimAt(i, bounce.point, u, v);
        aimed.direction = select(these, a.direction, aimed.direction);
        aimed.distance = select(these, a.distance, aimed.distance);
        aimed.pdf = select(these, a.pdf * m_chance[static_cast<std::size_t>(i)], aimed.pdf);
        aimed.radiance = select(these, a.radiance, aimed.radiance);
        aimed.entry = select(these, a.entry, aimed.entry);
    }
    addLight(batch, packet, bounce, aimed, alive, tried, open, rays);
}

[[gnu::always_inline]] inline void Integrator::addHitLights(PathBatch& batch, const Packet& packet, const Crossing& crossing,
                                                            const Wide& farthest, const Mask& active, bool all, Wide& nearest) const
{
    nearest = kInfinity;
    for (std::size_t i = 0; i < m_lights.size(); ++i) {
        const LightSampleOf<Wide> light = m_lights[i].hit(packet.origin, packet.direction, casts() ? Wide(kInfinity) : farthest);
        Mask met = active & (light.pdf > 0);
        if (casts())
            seeEntry(packet, m_lightEntries[i], light.distance, farthest, met, met);
        if (!any(met))
            continue;
        nearest = select(met, min(nearest, light.distance), nearest);
        const Wide lightPdf = light.pdf * (all ? 1 : m_chance[i]);
        V3<Wide> share = packet.throughput * (light.radiance * partOf(packet.pdf, lightPdf));
        if (m_letsThrough)
            share *= crossing.left(light.distance);
        addTo(batch, packet, met, m_lightEntries[i], share);
    }
}

[[gnu::always_inline]] inline void Integrator::addSky(PathBatch& batch, const Packet& packet, const Mask& lost, bool all) const
{
    if (!any(lost))
        return;
    const light::SkyMap::SeenWide seen = m_scene.sky->look(packet.direction, lost);
    const Wide aimed = seen.density * (all ? 1 : m_chance[static_cast<std::size_t>(m_skyIndex)]);
    const V3<Wide> share = packet.throughput * partOf(packet.pdf, aimed);
    addTo(batch, packet, lost, m_surroundingsEntry, share * seen.radiance);
    addOwnCards(batch, packet, packet.direction, share, lost);
}

[[gnu::always_inline]] inline void Integrator::addOwnCards(PathBatch& batch, const Packet& packet, const V3<Wide>& directions,
                                                           const V3<Wide>& share, const Mask& where) const
{
    for (int card = 0; card < m_ownCards; ++card)
        addTo(batch, packet, where, m_surroundingsEntry + 1 + card, share * m_scene.sky->lookAt(card, directions, where));
}

[[gnu::always_inline]] inline void Integrator::addEmission(PathBatch& batch, const Packet& packet, const Hits& hits, const Mask& alive,
                                                           int bounces) const
{
    const Wide cosine = dot(hits.view, hits.geometric);
    V3<Wide> radiance, most;  // `most` is what triangles are chosen by
    for (int lane = 0; lane < kLanes; ++lane)
        if (alive[lane] && hits.body[lane] >= 0) {
            const auto id = static_cast<std::size_t>(hits.material[lane]);
            const Material& material = m_scene.materials[id];
            if (material.emission <= 0)
                continue;
            const bool pictured = m_picturedLight && m_scene.covers[id].pictures.any();
            setLane(most, lane,
                    pictured ? mostLight(m_scene.covers[id].pictures, material.baseColour, material.emission) : emissionOf(material));
            setLane(radiance, lane,
                    pictured ? m_tracer.lightOf(hits.body[lane], static_cast<std::uint32_t>(hits.triangle[lane]), hits.second[lane],
                                                hits.third[lane])
                             : laneOf(most, lane));
        }
    const Mask gives = alive & (cosine > 0) & (largest(radiance) > 0);
    if (!any(gives))
        return;
    Wide weight = 1;
    if (bounces > 0)
        weight = partOf(packet.pdf, m_emitters.density(most, hits.distance, cosine) * (bounces == 1 ? 1 : m_chance[m_lights.size()]));
    if (bounces > 0 && casts())
        weighEmission(packet, weight);
    addTo(batch, packet, gives, m_emissiveEntry, packet.throughput * radiance * weight);
}

[[gnu::always_inline]] inline MaterialOf<Wide> Integrator::materialsAt(const Hits& hits) const
{
    const auto of = [&](const WideInt& ids) { return surface::materialsAt(m_scene.materials, ids); };
    MaterialOf<Wide> material = of(hits.material);
    if (any(hits.blend > 0)) {
        const MaterialOf<Wide> to = of(hits.materialTo);
        const auto mix = [&](Wide& a, const Wide& b) { a += (b - a) * hits.blend; };
        material.baseColour = lerp(material.baseColour, to.baseColour, hits.blend);
        mix(material.metallic, to.metallic);
        mix(material.roughness, to.roughness);
        mix(material.specular, to.specular);
    }
    return material;
}

[[gnu::always_inline]] inline Integrator::Relief Integrator::addCovers(const Hits& hits, const Mask& alive, const Wide& footprint,
                                                                       MaterialOf<Wide>& material, V3<Wide>& shading) const
{
    Relief relief{shading, {}};
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!alive[lane])
            continue;
        const Cover& cover = m_scene.covers[static_cast<std::size_t>(nearerMaterial(hits, lane))];
        if (!cover.any())
            continue;
        Look look{laneOf(material.baseColour, lane), material.roughness[lane], material.metallic[lane], 0, {}};
        const Vec3f normal = laneOf(shading, lane);
        // A cone that grazes covers more: the mean of its two widths.
        const float wide = footprint[lane] / std::sqrt(std::max(0.1f, std::abs(dot(normal, laneOf(hits.view, lane)))));
        Cloth cloth = m_tracer.clothAt(hits, lane, normal, wide);
        if (cover.pictures.any()) {
            const SheetPlace sheet = m_tracer.sheetAt(hits, lane, cloth, cover.pictures.lies);
            lay(cover.pictures, sheet, look);
            if (cover.pictures.coat)
                setLane(relief.coat, lane,
                        m_tracer.inWorld(hits, lane,
                                         reliefNormal(cover.pictures, cover.pictures.coat, sheet, cloth.along, cloth.place.normal)));
            cloth.place.normal = reliefNormal(cover.pictures, cover.pictures.relief, sheet, cloth.along, cloth.place.normal);
        }
        if (cover.pattern.kind != PatternKind::None)
            cloth.place.normal = withPattern(cover.pattern, cloth, look);
        setLane(shading, lane, m_tracer.inWorld(hits, lane, cloth.place.normal));
        setLane(material.baseColour, lane, look.colour);
        material.roughness.v[lane] = look.roughness;
        material.metallic.v[lane] = look.metallic;
        relief.there.v[lane] = cover.hasRelief() || cover.pictures.coat ? -1 : 0;
    }
    return relief;
}

template <class Surface>
[[gnu::always_inline]] inline FrameOf<Wide> Integrator::frameAt(const Hits& hits, const Mask& alive, const V3<Wide>& shading) const
{
    FrameOf<Wide> frame(shading);
    if constexpr (!Bounce<Surface>::kLayered)
        return frame;
    if (!m_brushed)
        return frame;
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!alive[lane])
            continue;
        const Layers& layers = m_scene.layers[static_cast<std::size_t>(nearerMaterial(hits, lane))];
        if (!(layers.anisotropy > 0))
            continue;
        const Vec3f normal = laneOf(shading, lane);
        const FrameOf<float> grain(normal, m_tracer.grainAt(hits, lane, normal));
        const float cosine = std::cos(layers.anisotropyRotation), sine = std::sin(layers.anisotropyRotation);
        setLane(frame.t, lane, grain.t * cosine + grain.b * sine);
        setLane(frame.b, lane, grain.b * cosine - grain.t * sine);
    }
    return frame;
}

template <>
[[gnu::always_inline]] inline SurfaceOf<Wide> Integrator::surfaceAt(const Hits& hits, const MaterialOf<Wide>& material,
                                                                    const FrameOf<Wide>& frame, const Crossing&, const Relief&,
                                                                    const Wide&) const
{
    return {material, viewIn(frame, hits.view)};
}
template <>
[[gnu::always_inline]] inline LayeredSurfaceOf<Wide> Integrator::surfaceAt(const Hits& hits, const MaterialOf<Wide>& material,
                                                                           const FrameOf<Wide>& frame, const Crossing& crossing,
                                                                           const Relief& relief, const Wide& blur) const
{
    LayersOf<Wide> layers = layersAt(m_scene.layers, hits.material);
    if (any(hits.blend > 0))
        layers = blended(layers, layersAt(m_scene.layers, hits.materialTo), hits.blend);
    if (any(crossing.behind)) {  // a coat and fibres are outside
        layers.clearcoat = select(crossing.behind, Wide(0), layers.clearcoat);
        layers.sheenColour = select(crossing.behind, V3<Wide>{}, layers.sheenColour);
    }
    layers.clearcoatRoughness = max(layers.clearcoatRoughness, blur);
    V3<Wide> coatNormal{0, 0, 1};
    if (any(relief.there & (layers.clearcoat > 0))) {
        const V3<Wide> normal = normalized(lerp(relief.coat, hits.shading, layers.clearcoatRelief));
        // Its mirror's way must not go below the relief.
        coatNormal = select(relief.there, frame.toLocal(usableNormal(facing(hits, normal), frame.n, hits.view)), coatNormal);
    }
    return {material, layers, viewIn(frame, hits.view), crossing.eta, coatNormal};
}

[[gnu::always_inline]] inline Integrator::Crossing Integrator::crossingAt(const Packet& packet, const Hits& hits, const Mask& alive) const
{
    Crossing crossing;
    const Wide facing = dot(hits.view, hits.geometric);
    const auto indexOf = [&](int material) { return material == kOutside ? 1 : m_scene.layers[static_cast<std::size_t>(material)].ior; };
    for (int lane = 0; lane < kLanes; ++lane) {
        int before = packet.inMaterial[0][lane];
        const int body = alive[lane] ? hits.body[lane] : -1, material = hits.material[lane];
        const Layers* layers = body < 0 ? nullptr : &m_scene.layers[static_cast<std::size_t>(material)];
        if (layers && layers->solid > 0 && layers->letsThrough()) {
            crossing.solid.v[lane] = -1;
            int beyond = material;
            if (facing[lane] < 0) {
                crossing.behind.v[lane] = -1;
                // A path that began in a solid is in what it meets from the inside first.
                if (before == kOutside)
                    before = material;
                const bool last = packet.inBody[0][lane] == body;
                crossing.passes.v[lane] = !last && packet.inBody[0][lane] != kOutside ? -1 : 0;
                beyond = last ? packet.inMaterial[1][lane] : kOutside;
            }
            crossing.eta.v[lane] = indexOf(beyond) / indexOf(before);
        }
        if (before != kOutside)
            setLane(crossing.absorption, lane, m_scene.layers[static_cast<std::size_t>(before)].absorption);
    }
    return crossing;
}

// The guides of mirrors are reached.
[[gnu::always_inline]] inline void Integrator::followGuide(PathBatch& batch, Packet& packet, const Mask& where, const V3<Wide>& albedo,
                                                           const V3<Wide>& normal, const Wide& distance) const
{
    const V3<Wide> tinted = packet.tint * albedo;
    const Wide d = packet.mirrorPath + distance,
               depth = select(d < kInfinity, d / (d + static_cast<float>(m_scene.camera.frameWidth)), Wide(1));
    for (int lane = 0; lane < kLanes; ++lane)
        if (where[lane]) {
            PixelSums& to = batch.m_guides[static_cast<std::size_t>(packet.path[lane])];
            to.mirrorAlbedo = laneOf(tinted, lane);
            to.mirrorNormal = laneOf(normal, lane);
            to.mirrorDepth = depth[lane];
        }
    packet.mirrors = select(where, WideInt(-1), packet.mirrors);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Integrator::firstHits(const V3<Wide>& origins, const V3<Wide>& directions, float pixelPt, PixelSums (&guides)[kLanes]) const
{
    Hits hits;
    Mask found;
    m_tracer.intersect(origins, directions, Mask::firstOf(kLanes), true, hits, found);
    std::fill(guides, guides + kLanes, PixelSums{});
    if (!any(found))
        return;
    MaterialOf<Wide> material = materialsAt(hits);
    Relief relief{hits.shading, {}};
    if (hasCovers()) {
        const auto [width, spread] = pixelCone(m_scene.camera, pixelPt);
        relief = addCovers(hits, found, Wide(width) + spread * hits.distance, material, hits.shading);
    }
    const V3<Wide> shading = usableNormal(facing(hits, hits.shading), facing(hits, hits.geometric), hits.view);
    const auto albedoOf = [&]<class Surface>() {
        return surfaceAt<Surface>(hits, material, frameAt<Surface>(hits, found, shading), {}, relief, Wide(0)).albedo();
    };
    const V3<Wide> albedo =
        m_scene.layers.empty() ? albedoOf.template operator()<SurfaceOf<Wide>>() : albedoOf.template operator()<LayeredSurfaceOf<Wide>>();
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!found[lane])
            continue;
        PixelSums& to = guides[lane];
        to.alpha = 1;
        to.depth = hits.distance[lane];
        to.normal = laneOf(hits.shading, lane);
        to.albedo = laneOf(albedo, lane);
    }
}

[[gnu::always_inline]] inline void Integrator::cross(Packet& packet, const Hits& hits, const Crossing& crossing, const Mask& alive,
                                                     const Mask& through, const V3<Wide>& beyond)
{
    packet.origin = select(through, beyond, packet.origin);
    packet.pdf = select(crossing.passes, Wide(kCertain), packet.pdf);
    const Mask changes = alive & through & crossing.solid;
    for (int lane = 0; lane < kLanes; ++lane)
        if (changes[lane] && crossing.behind[lane])
            packet.leave(lane, hits.body[lane]);
        else if (changes[lane])
            packet.enter(lane, hits.body[lane], hits.material[lane]);
}

template <class Surface>
[[gnu::always_inline]] inline void Integrator::advanceOn(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive,
                                                         std::uint64_t& rays) const
{
    const Mask active = Mask::firstOf(count);
    Hits hits;
    rays += static_cast<std::uint64_t>(count);
    const Sight mirrored{0, packet.leaves};
    m_tracer.intersect(packet.origin, packet.direction, active, bounces == 0, hits, alive, casts() && bounces > 0 ? &mirrored : nullptr);
    const Mask lost = active & !alive;
    Crossing crossing;
    if constexpr (Bounce<Surface>::kLayered)
        if (m_letsThrough)
            crossing = crossingAt(packet, hits, alive);
    if (bounces > 0) {
        Wide light;
        addHitLights(batch, packet, crossing, select(alive, hits.distance, Wide(kInfinity)), active, bounces == 1, light);
        const Mask ends = active & (packet.mirrors >= 0) & (lost | (light < kInfinity));
        if (any(ends))
            followGuide(batch, packet, ends, {1, 1, 1}, -packet.direction, light);
        Mask sees = lost;
        if (casts() && m_scene.surroundings)
            seeEntry(packet, m_surroundingsEntry, kInfinity, select(alive, hits.distance, Wide(kInfinity)), active, sees);
        if (m_scene.surroundings && m_scene.sky)
            addSky(batch, packet, sees, bounces == 1);
        else if (m_scene.surroundings)
            addTo(batch, packet, sees, m_surroundingsEntry, packet.throughput);
    }
    if (!any(alive))
        return;
    if constexpr (Bounce<Surface>::kLayered)
        if (m_letsThrough)
            packet.throughput = select(alive, packet.throughput * crossing.left(hits.distance), packet.throughput);
    const V3<Wide> geometric = facing(hits, hits.geometric);
    MaterialOf<Wide> material = materialsAt(hits);
    Wide footprint;
    Relief relief;
    if constexpr (Bounce<Surface>::kLayered)
        if (hasCovers()) {
            footprint = packet.width + packet.spread * hits.distance;
            relief = addCovers(hits, alive, footprint, material, hits.shading);
            if (bounces == 0)
                for (int lane = 0; lane < count; ++lane)
                    batch.m_reliefs[static_cast<std::size_t>(packet.path[lane])] = relief.there[lane];
        }
    Wide blur = packet.blur;
    if (bounces == 0)
        for (int lane = 0; lane < kLanes; ++lane)
            if (alive[lane] && hits.body[lane] >= 0)
                blur.v[lane] = blurOfBend(m_tracer.bendAt(hits, lane) * (packet.width[lane] + packet.spread[lane] * hits.distance[lane]));
    material.roughness = max(material.roughness, blur);
    if (m_scene.emissive)
        addEmission(batch, packet, hits, alive, bounces);
    const Bounce<Surface> bounce(*this, hits, geometric, usableNormal(facing(hits, hits.shading), geometric, hits.view), material, crossing,
                                 relief, blur, alive);

    const Mask open = alive & (packet.mirrors >= 0);
    if (bounces == 0 || any(open)) {
        const V3<Wide> albedo = bounce.surface.albedo();
        if (bounces == 0)
            for (int lane = 0; lane < kLanes; ++lane)
                if (alive[lane]) {
                    const auto path = static_cast<std::size_t>(packet.path[lane]);
                    PixelSums& to = batch.m_guides[path];
                    to.alpha = 1;
                    to.depth = hits.distance[lane];
                    to.normal = laneOf(hits.shading, lane);
                    to.albedo = laneOf(albedo, lane);
                    batch.m_ids[path] = idOf(m_scene, hits, lane);
                }
        // What the guides look through: a mirror whose picture is sharp.
        Mask mirror = open & (material.metallic > 0.5f) & (material.roughness < 0.3f) & !(packet.mirrors >= kGuideMirrors);
        if constexpr (Bounce<Surface>::kLayered)
            mirror = mirror | (open & bounce.surface.isWindow() & !(packet.mirrors >= kGuideWindows));
        packet.tint = select(mirror, packet.tint * albedo, packet.tint);
        packet.mirrors = select(mirror, packet.mirrors + 1, packet.mirrors);
        const Mask ends = open & !mirror;
        if (any(ends))
            followGuide(batch, packet, ends, albedo, hits.shading, hits.distance);
        packet.mirrorPath = select(mirror, packet.mirrorPath + hits.distance, packet.mirrorPath);
    }

    addLights(batch, packet, bounce, alive & !crossing.passes, bounces == 0, rays);
    const auto [u, v] = packet.sampler.next2();
    const auto [choice, survival] = packet.sampler.next2();
    const auto next = bounce.surface.sample(choice, u, v);
    alive = alive & (((next.pdf > 0) & isFinite(next.weight.x + next.weight.y + next.weight.z)) | crossing.passes);
    packet.throughput = select(crossing.passes, packet.throughput, packet.throughput * next.weight);
    packet.direction = select(crossing.passes, packet.direction, normalized(bounce.frame.toWorld(next.direction)));
    packet.origin = bounce.start;
    packet.pdf = next.pdf;
    packet.leaves = select(crossing.passes, packet.leaves, hits.body);
    packet.blur = select(crossing.passes, packet.blur, max(packet.blur, blurAfter(next.pdf, packet.mostBlur)));
    if constexpr (Bounce<Surface>::kLayered) {
        packet.width = footprint;
        packet.spread = max(packet.spread, min(Wide(0.3f), 0.15f / root(max(next.pdf, Wide(1e-6f)))));
    }
    if constexpr (Bounce<Surface>::kLayered)
        if (m_letsThrough)
            cross(packet, hits, crossing, alive, crossing.passes | (next.direction.z < 0), bounce.beyond);
    if (bounces + 1 >= kRouletteFrom) {
        const Wide chance = min(largest(packet.throughput) * (1 / kRouletteBelow), Wide(0.98f));
        alive = alive & (survival < chance);
        packet.throughput *= 1 / chance;
    }
}

void Integrator::advance(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const
{
    if (m_scene.layers.empty())
        advancePlain(batch, packet, count, bounces, alive, rays);
    else
        advanceLayered(batch, packet, count, bounces, alive, rays);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Integrator::advancePlain(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const
{
    advanceOn<SurfaceOf<Wide>>(batch, packet, count, bounces, alive, rays);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Integrator::advanceLayered(PathBatch& batch, Packet& packet, int count, int bounces, Mask& alive, std::uint64_t& rays) const
{
    advanceOn<LayeredSurfaceOf<Wide>>(batch, packet, count, bounces, alive, rays);
}

std::uint64_t Integrator::trace(PathBatch& batch) const
{
    std::fill(batch.m_light.begin(), batch.m_light.end(), Rgb{});
    std::fill(batch.m_guides.begin(), batch.m_guides.end(), PixelSums{});
    std::fill(batch.m_ids.begin(), batch.m_ids.end(), PixelId{});
    std::uint64_t rays = 0;
    int count = batch.m_count;
    for (int bounces = 0; count > 0; ++bounces) {
        int left = 0;
        for (int first = 0; first < count; first += kLanes) {
            Packet& packet = batch.m_packets[static_cast<std::size_t>(first / kLanes)];
            Mask alive;
            advance(batch, packet, std::min(kLanes, count - first), bounces, alive, rays);
            // Those that go on move up to the first free lanes.
            if (left == first && !any(!alive)) {
                left += kLanes;
                continue;
            }
            for (int lane = 0; lane < kLanes; ++lane)
                if (alive[lane]) {
                    Packet& to = batch.m_packets[static_cast<std::size_t>(left / kLanes)];
                    to.takeLane(left++ % kLanes, packet, lane);
                }
        }
        count = left;
    }
    return rays;
}

}  // namespace render
