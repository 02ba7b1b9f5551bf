// What a path meets: its material with all that lies on it, the frame it is seen in, what is between there and where it came from, and ways
// from there to lights. Of Integrator, for the files that build it: whole functions with everything inside them are built for each
// instruction set.
#pragma once

#include "base/frame.h"
#include "render/integrator.h"

namespace render {

inline constexpr float kCertain = 1e18f;  // the density of a direction that no light could have been aimed in
inline constexpr float kMostBlur = 0.3f;  // roughness, after a white wall

// Shading normals that can be seen from `view` and whose mirror direction leaves the facet (after A. Keller and others, The
// Iray light transport simulation and rendering system, 2017, on normals).
inline V3<Wide> usableNormal(const V3<Wide>& shading, const V3<Wide>& geometric, const V3<Wide>& view)
{
    constexpr float kLowest = 0.01f;
    const Wide cosine = dot(view, shading);
    const V3<Wide> mirrored = shading * (2 * cosine) - view;
    const Wide above = dot(mirrored, geometric);
    const Mask usable = (dot(view, geometric) <= 0) | ((cosine > 0) & (above >= kLowest));
    return select(usable, shading, normalized(view + normalized(mirrored + geometric * (kLowest + 0.01f - min(above, Wide(0))))));
}

// A normal on the viewer's side of the facet.
inline V3<Wide> facing(const Hits& hits, const V3<Wide>& normal)
{
    return select(dot(hits.view, hits.geometric) < 0, -normal, normal);
}

// Of two that go over into each other, the one that is more there.
inline int nearerMaterial(const Hits& hits, int lane)
{
    return hits.blend[lane] > 0.5f ? hits.materialTo[lane] : hits.material[lane];
}

inline V3<Wide> viewIn(const FrameOf<Wide>& frame, const V3<Wide>& view)
{
    V3<Wide> local = frame.toLocal(view);
    local.z = max(local.z, Wide(1e-3f));
    return normalized(local);
}

// A look with its pattern; the normal it has then.
inline Vec3f withPattern(const Pattern& pattern, const Cloth& cloth, Look& look)
{
    const Look base = look;
    look = patterned(pattern, base, cloth.place);
    return relievedNormal(pattern, base, cloth.place, cloth.along, cloth.du, cloth.dv, look);
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
    ThrownLight::Places thrown;  // what is known of light that is thrown here

    // Which of these choices of the surface's lobes the thrown light takes: the last of all, of its diffuse lobe.
    Mask byThrown(const Wide& choice) const { return (thrown.share > 0) & (choice >= 1 - thrown.share * surface.diffuseShare()); }
    // Density with which directions, here and in the world, are drawn where the surface alone does so with `pdf`.
    Wide mixed(const ThrownLight& light, const V3<Wide>& local, const V3<Wide>& direction, const Wide& pdf) const
    {
        if (!any(thrown.share > 0))
            return pdf;
        Wide densities;
        light.densities(thrown.cell, direction, densities);
        const Wide own = max(Wide(0), local.z) * (1 / kPiFloat);
        return select(pdf > 0, pdf + thrown.share * surface.diffuseShare() * (densities - own), pdf);
    }

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

[[gnu::always_inline]] inline Integrator::Aimed Integrator::aimAtOne(SamplerOf<Wide>& sampler, const V3<Wide>& point, const Mask& alive,
                                                                     WideInt& chosen) const
{
    const int count = static_cast<int>(m_chance.size());
    if (count > 1) {
        Wide choice = sampler.next1();
        for (int i = 0; i + 1 < count; ++i) {
            const Mask further = (chosen == i) & (choice >= m_chance[static_cast<std::size_t>(i)]);
            choice -= select(further, Wide(m_chance[static_cast<std::size_t>(i)]), Wide(0));
            chosen = select(further, chosen + 1, chosen);
        }
    }
    const auto [u, v] = sampler.next2();
    Aimed aimed;
    for (int i = 0; i < count; ++i) {
        const Mask these = alive & (chosen == i);
        if (!any(these))
            continue;
        const Aimed a = aimAt(i, point, u, v);
        aimed.direction = select(these, a.direction, aimed.direction);
        aimed.distance = select(these, a.distance, aimed.distance);
        aimed.pdf = select(these, a.pdf * m_chance[static_cast<std::size_t>(i)], aimed.pdf);
        aimed.radiance = select(these, a.radiance, aimed.radiance);
        aimed.entry = select(these, a.entry, aimed.entry);
    }
    return aimed;
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

[[gnu::always_inline]] inline void Integrator::cross(Packet& packet, const Hits& hits, const Crossing& crossing, const Mask& alive,
                                                     const Mask& through, const V3<Wide>& beyond)
{
    packet.origin = select(through, beyond, packet.origin);
    packet.pdf = select(crossing.passes, Wide(kCertain), packet.pdf);
    packet.surfacePdf = select(crossing.passes, Wide(kCertain), packet.surfacePdf);
    const Mask changes = alive & through & crossing.solid;
    for (int lane = 0; lane < kLanes; ++lane)
        if (changes[lane] && crossing.behind[lane])
            packet.leave(lane, hits.body[lane]);
        else if (changes[lane])
            packet.enter(lane, hits.body[lane], hits.material[lane]);
}

}  // namespace render
