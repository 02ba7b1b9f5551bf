// Materials looked up where something is hit.
#pragma once

#include <vector>

#include "base/lanes.h"
#include "surface/material.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

// Where on a surface: pt along its outline and its profile (solid::Corner), and in the world.
struct Place {
    float u = 0, v = 0;
    Vec3f point;
};

// What a path travels in: outside of everything, or in the body of a material by its id.
inline constexpr int kOutside = -1;

// The materials with these ids, without their covers.
[[gnu::always_inline]] inline MaterialOf<Wide> materialsAt(const std::vector<Material>& materials, const WideInt& ids)
{
    MaterialOf<Wide> all;
    for (int lane = 0; lane < kLanes; ++lane) {
        const Material& m = materials[static_cast<std::size_t>(ids[lane])];
        setLane(all.baseColour, lane, m.baseColour);
        all.metallic.v[lane] = m.metallic;
        all.roughness.v[lane] = m.roughness;
        all.specular.v[lane] = m.specular;
    }
    return all;
}

// Their layers.
[[gnu::always_inline]] inline LayersOf<Wide> layersAt(const std::vector<Layers>& layers, const WideInt& ids)
{
    LayersOf<Wide> all;
    for (int lane = 0; lane < kLanes; ++lane) {
        const Layers& l = layers[static_cast<std::size_t>(ids[lane])];
        setLane(all.specularColour, lane, l.specularColour);
        all.ior.v[lane] = l.ior;
        all.clearcoat.v[lane] = l.clearcoat;
        all.clearcoatRoughness.v[lane] = l.clearcoatRoughness;
        setLane(all.sheenColour, lane, l.sheenColour);
        all.sheenRoughness.v[lane] = l.sheenRoughness;
        all.transmission.v[lane] = l.transmission;
        all.translucency.v[lane] = l.translucency;
        all.solid.v[lane] = l.solid;
        setLane(all.absorption, lane, l.absorption);
        all.clearcoatRelief.v[lane] = l.clearcoatRelief;
        all.anisotropy.v[lane] = l.anisotropy;
        all.anisotropyRotation.v[lane] = l.anisotropyRotation;
        all.iridescence.v[lane] = l.iridescence;
        all.film.film[lane] = l.film.film.get();
    }
    return all;
}

// Between two; a film is that of the nearer one that has any.
inline LayersOf<Wide> blended(const LayersOf<Wide>& a, const LayersOf<Wide>& b, Wide share)
{
    FilmOf<Wide> film;
    for (int lane = 0; lane < kLanes; ++lane) {
        const ThinFilm *nearer = a.film.film[lane], *other = b.film.film[lane];
        if (share[lane] > 0.5f)
            std::swap(nearer, other);
        film.film[lane] = nearer ? nearer : other;
    }
    const auto mix = [&](Wide x, Wide y) { return x + (y - x) * share; };
    return {lerp(a.specularColour, b.specularColour, share),
            mix(a.ior, b.ior),
            mix(a.clearcoat, b.clearcoat),
            mix(a.clearcoatRoughness, b.clearcoatRoughness),
            lerp(a.sheenColour, b.sheenColour, share),
            mix(a.sheenRoughness, b.sheenRoughness),
            mix(a.transmission, b.transmission),
            mix(a.translucency, b.translucency),
            mix(a.solid, b.solid),
            lerp(a.absorption, b.absorption, share),
            mix(a.clearcoatRelief, b.clearcoatRelief),
            mix(a.anisotropy, b.anisotropy),
            mix(a.anisotropyRotation, b.anisotropyRotation),
            mix(a.iridescence, b.iridescence),
            film};
}

}  // namespace surface
