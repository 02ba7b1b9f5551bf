#include "render/integrator.h"

#include <algorithm>
#include <cmath>
#include <type_traits>

#include "render/bounce.h"

namespace render {

namespace {

// Paths of so many bounces end by chance when they carry less than this: what survives would else be as bright as what one sees at first
// hand, and speckle. (Of the scenes of bench/noise.cpp a quarter of the error goes for a twentieth more time.)
constexpr int kRouletteFrom = 3;
constexpr float kRouletteBelow = 0.5f;
constexpr int kThrownBounces = 3;  // where directions are chosen by what is known of thrown light
constexpr int kGuideMirrors = 2, kGuideWindows = 6;

constexpr float kBlurredSamples = 64;  // from about so many on it becomes less

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
    take(surfacePdf, from.surfacePdf);
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
    Wide part = partOf(aimed.pdf, bounce.mixed(m_thrown, local, aimed.direction, value.pdf));
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
    addLight(batch, packet, bounce, aimAtOne(packet.sampler, bounce.point, alive, chosen), alive, tried, open, rays);
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
    Bounce<Surface> bounce(*this, hits, geometric, usableNormal(facing(hits, hits.shading), geometric, hits.view), material, crossing,
                           relief, blur, alive);
    if (!m_thrown.empty() && bounces < kThrownBounces) {
        const auto [u, v] = packet.sampler.next2();
        bounce.thrown = m_thrown.at(hits.point, geometric, u, v, alive & (bounce.surface.diffuseShare() > 0));
    }

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
    V3<Wide> drawn = bounce.surface.draw(choice, u, v);
    const Mask byThrown = bounce.byThrown(choice);
    if (any(byThrown))
        drawn = select(byThrown, bounce.frame.toLocal(m_thrown.directions(bounce.thrown.cell, u, v, byThrown)), drawn);
    const auto next = bounce.surface.towards(drawn);
    const V3<Wide> direction = normalized(bounce.frame.toWorld(next.direction));
    const Wide pdf = bounce.mixed(m_thrown, next.direction, direction, next.pdf);
    alive = alive & (((next.pdf > 0) & isFinite(next.weight.x + next.weight.y + next.weight.z)) | crossing.passes);
    packet.throughput =
        select(crossing.passes, packet.throughput, packet.throughput * next.weight * select(pdf > 0, next.pdf / pdf, Wide(0)));
    packet.direction = select(crossing.passes, packet.direction, direction);
    packet.origin = bounce.start;
    packet.pdf = pdf;
    packet.surfacePdf = next.pdf;
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
