// What things are made of: glTF 2.0's metallic-roughness (specification, appendix B) with KHR_materials_specular's factor. How they send
// light back is in surface.h.
#pragma once

#include "base/vec.h"

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

// Light that a surface of this material gives off, white cards.
inline Rgb emissionOf(const Material& material)
{
    return material.baseColour * material.emission;
}

}  // namespace surface
