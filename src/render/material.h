// The material model: glTF 2.0's metallic-roughness (specification, appendix B) with KHR_materials_specular's factor.
//
// Where glTF loses or makes energy, this keeps it:
// - metals: GGX scaled for what bounces between the facets (E. Turquin, Practical multiple scattering compensation, 2019);
// - dielectrics: what the mirror layer does not send back goes to the diffuse base, in both directions (C. Kulla and
//   A. Conty, Revisiting physically based shading, 2017), so that white stays white at any roughness.
// Fresnel: exact for dielectrics (index 1.5); Schlick's approximation for metals, whose base colour is the only thing known.
// GGX with height-correlated Smith shadowing (B. Walter and others 2007; E. Heitz 2014), sampled by visible normals
// (E. Heitz 2018).
//
// Directions are unit, point away from the surface and are in its frame: the normal is +z.
#pragma once

#include "base/vec.h"

namespace render {

using base::Rgb;
using base::Vec3f;

struct Material {
    Rgb baseColour{0.8f, 0.8f, 0.8f};  // linear, 0 to 1
    float metallic = 0;                // 0 to 1
    float roughness = 0.5f;            // 0 to 1, perceptual: alpha is its square
    float specular = 1;                // 0 to 1: strength of a dielectric's mirror layer
    float emission = 0;                // light given off, in base colour: 1 is as bright as a white card in full light

    bool operator==(const Material&) const = default;
};

inline constexpr float kIndexOfRefraction = 1.5f;
inline constexpr float kSmallestAlpha = 1e-3f;  // roughness 0.03: smoother looks the same and samples badly

// Share of unpolarised light a dielectric with relative index `eta` reflects; cosine on the incident side, 0 to 1.
float fresnelDielectric(float cosine, float eta);
struct Polarised {
    float parallel, perpendicular;
};
Polarised fresnelPolarised(float cosine, float eta);

// GGX distribution of facet normals; the visible-normal density of h seen from `view`; and one drawn from it.
float ggxDistribution(Vec3f h, float alpha);
float ggxVisibleDensity(Vec3f view, Vec3f h, float alpha);
Vec3f sampleGgxVisible(Vec3f view, float alpha, float u, float v);

// A material prepared for one viewing direction. View must have z > 0.
class Surface {
public:
    Surface(const Material& material, Vec3f view);

    struct Value {
        Rgb f;          // reflected radiance per irradiance, without the cosine
        float pdf = 0;  // density with which sample() draws this direction, per steradian
    };
    Value evaluate(Vec3f light) const;

    struct Sample {
        Vec3f direction;
        Rgb weight;  // f cos / pdf
        float pdf = 0;
    };
    // pdf 0 where nothing is reflected.
    Sample sample(float choice, float u, float v) const;

    // Share of light from everywhere that goes towards the view, by the tables (for guides and tests).
    Rgb albedo() const;

private:
    Material m_material;
    Vec3f m_view;
    float m_alpha;
    bool m_hasLayer;      // a dielectric's mirror layer is there
    float m_mirrorView;   // dielectric mirror layer's albedo towards the view, times specular
    Rgb m_metalScale;
    float m_specularShare;  // chance that sample() picks the mirror lobe
};

}  // namespace render
