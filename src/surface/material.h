// What things are made of: glTF 2.0's metallic-roughness (specification, appendix B) with KHR_materials_specular's factor, and the layers
// that its further extensions add. How they send light back is in surface.h and layered.h.
#pragma once

#include <algorithm>
#include <cmath>

#include "base/vec.h"
#include "surface/thin_film.h"

namespace surface {

using base::Rgb;
using base::Vec3f;

template <class F>
struct MaterialOf {
    base::V3<F> baseColour{0.8f, 0.8f, 0.8f};  // linear, 0 to 1
    F metallic = 0;                            // 0 to 1
    F roughness = 0.5f;                        // 0 to 1, perceptual: alpha is its square
    F specular = 1;                            // 0 to 1: strength of a dielectric's mirror layer
    F emission = 0;                            // light given off, in base colour: 1 is as bright as a white card in full light

    bool operator==(const MaterialOf&) const = default;
};
using Material = MaterialOf<float>;

// What only some materials have; as it stands it adds nothing.
template <class F>
struct LayersOf {
    base::V3<F> specularColour{1, 1, 1};  // KHR_materials_specular: linear, tints a dielectric's mirror layer seen head on
    F ior = 1.5f;                         // KHR_materials_ior: of a dielectric, 1 to 3
    F clearcoat = 0;                      // KHR_materials_clearcoat: 0 to 1, a clear layer of index 1.5 over everything
    F clearcoatRoughness = 0;             // 0 to 1, as roughness
    base::V3<F> sheenColour{0, 0, 0};     // KHR_materials_sheen: linear, 0 to 1: of the fibres that stand up from a cloth
    F sheenRoughness = 0.5f;              // 0 to 1
    F transmission = 0;                   // KHR_materials_transmission: 0 to 1, share of a dielectric's base that is clear
    F translucency = 0;                   // KHR_materials_diffuse_transmission: 0 to 1, of the base's diffuse light, goes through
    F solid = 0;                          // 1: the body is full of it (KHR_materials_volume), light is bent; 0: it is a thin wall
    base::V3<F> absorption{0, 0, 0};      // per pt of a solid's inside
    F clearcoatRelief = 0;                // 0: the coat is smooth over a relief, as KHR_materials_clearcoat's without a map; 1: it follows
    F anisotropy = 0;                     // KHR_materials_anisotropy: 0 to 1, how much rougher along the grain's direction; not of glass
    F anisotropyRotation = 0;             // radians from where u grows, counter-clockwise
    F iridescence = 0;                    // KHR_materials_iridescence: 0 to 1, share of the base under a thin film
    FilmOf<F> film;                       // where there is any

    // Whether light goes through.
    auto letsThrough() const { return (transmission > 0) | (translucency > 0); }

    bool operator==(const LayersOf&) const = default;
};
using Layers = LayersOf<float>;

// What absorbs all but `colour` within `distancePt` (KHR_materials_volume; Beer and Lambert's law), per pt; 0 pt absorbs nothing.
inline Rgb absorptionOf(Rgb colour, float distancePt)
{
    const auto of = [&](float c) { return distancePt > 0 ? -std::log(std::max(c, 1e-4f)) / distancePt : 0; };
    return {of(colour.x), of(colour.y), of(colour.z)};
}

// Light that a surface of this material gives off, white cards.
inline Rgb emissionOf(const Material& material)
{
    return material.baseColour * material.emission;
}

}  // namespace surface
