// How a material with further layers sends light back: as surface.h, and from the outside in
// - a clear coat of index 1.5 (KHR_materials_clearcoat): what it lets through, by its albedo towards the view, is what is below;
// - a sheen (KHR_materials_sheen): the distribution of A. Estevez and C. Kulla, Production friendly microfacet sheen BRDF, 2017, with the
//   visibility of D. Neubelt and M. Pettineo, Crafting a next-gen material pipeline, 2013; what is below is scaled as that extension says;
// - the base, whose mirror layer may have another index of refraction (KHR_materials_ior) and a colour seen head on
//   (KHR_materials_specular); it keeps its Fresnel curve towards grazing angles.
// All but the coat's and the metal's scaling is reciprocal. Materials without layers look as Surface makes them, to 1e-3.
//
// Directions as in surface.h.
#pragma once

#include "surface/surface.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

inline constexpr float kSmallestSheen = 0.07f;  // roughness: smoother sheens are a thin line that samples badly

inline float powerOf(float a, float b)
{
    return std::pow(a, b);
}
inline Wide powerOf(Wide a, Wide b)
{
    Wide r;
    for (int i = 0; i < kLanes; ++i)
        r.v[i] = std::pow(a.v[i], b.v[i]);
    return r;
}

// A white sheen's value, without the cosine; both directions above the surface.
template <class F>
F sheenOf(V3<F> view, V3<F> light, F roughness)
{
    const V3<F> h = normalized(view + light);
    const F inverse = 1 / squared(max(roughness, F(kSmallestSheen)));
    const F d = (2 + inverse) * powerOf(max(F(1e-8f), 1 - squared(h.z)), inverse * 0.5f) * (0.5f / kPiFloat);
    return d / (4 * (light.z + view.z - light.z * view.z));
}

// A material and its layers prepared for one viewing direction. View must have z > 0.
template <class F>
class LayeredSurfaceOf {
public:
    using Value = typename SurfaceOf<F>::Value;
    using Sample = typename SurfaceOf<F>::Sample;

    LayeredSurfaceOf(const MaterialOf<F>& material, const LayersOf<F>& layers, V3<F> view);

    // As Surface's.
    Value evaluate(V3<F> light) const;
    Sample sample(F choice, F u, F v) const;
    V3<F> albedo() const;

private:
    // Of a dielectric's mirror layer: `plain` is its value for a layer that is not coloured, `white` for one that reflects all.
    V3<F> tinted(F plain, F white) const
    {
        const F curved = (plain - m_headOn * white) / (1 - m_headOn);
        return (m_tint * (white - curved) + V3<F>{curved, curved, curved}) * m_material.specular;
    }
    static F largestOf(V3<F> a) { return max(a.x, max(a.y, a.z)); }
    static V3<F> complement(V3<F> a) { return {1 - a.x, 1 - a.y, 1 - a.z}; }

    MaterialOf<F> m_material;
    LayersOf<F> m_layers;
    V3<F> m_view;
    F m_alpha = 0, m_lambda = 0, m_coatAlpha = 0, m_coatLambda = 0;
    F m_headOn = 0;                    // share a layer of that index reflects head on
    V3<F> m_tint;                      // the same with its colour
    V3<F> m_mirrorView, m_mirrorMean;  // albedo of the mirror layer, towards the view and over all
    V3<F> m_metalScale;
    F m_coatView = 0, m_sheenView = 0;     // albedos towards the view; the sheen's for its strongest colour
    F m_sheenWhole = 1;                    // what a white sheen is divided by so that it is never over 1
    F m_coatShare = 0, m_mirrorShare = 0;  // chances of sample()
};
using LayeredSurface = LayeredSurfaceOf<float>;

template <class F>
LayeredSurfaceOf<F>::LayeredSurfaceOf(const MaterialOf<F>& material, const LayersOf<F>& layers, V3<F> view)
    : m_material(material), m_layers(layers), m_view(view)
{
    const EnergyTables& tables = energyTables();
    const LayerTables& more = layerTables();
    m_alpha = max(F(kSmallestAlpha), squared(material.roughness));
    m_lambda = smithLambda(view, m_alpha);
    m_coatAlpha = max(F(kSmallestAlpha), squared(layers.clearcoatRoughness));
    m_coatLambda = smithLambda(view, m_coatAlpha);
    m_headOn = squared((layers.ior - 1) / (layers.ior + 1));
    m_tint = layers.specularColour * m_headOn;
    m_tint = {min(m_tint.x, F(1)), min(m_tint.y, F(1)), min(m_tint.z, F(1))};
    const F all = tables.mirror(view.z, material.roughness);
    m_mirrorView = tinted(more.dielectric(view.z, material.roughness, layers.ior), all);
    m_mirrorMean = tinted(more.dielectricMean(material.roughness, layers.ior), tables.mirrorMean(material.roughness));
    m_metalScale = V3<F>{1, 1, 1} + material.baseColour * ((1 - all) / all);
    m_coatView = layers.clearcoat * tables.dielectric(view.z, layers.clearcoatRoughness);
    const F sheen = more.sheen(view.z, layers.sheenRoughness);
    m_sheenWhole = max(F(1), sheen);
    m_sheenView = largestOf(layers.sheenColour) * sheen / m_sheenWhole;

    const F below = 1 - m_coatView, base = below * (1 - m_sheenView), plain = 1 - material.metallic;
    const F mirror =
        base * (plain * luminance(m_mirrorView) + material.metallic * max(F(0.05f), luminance(schlick(material.baseColour, view.z))));
    const F diffuse = below * m_sheenView + base * plain * max(F(0.01f), luminance(complement(m_mirrorView) * material.baseColour));
    const F sum = m_coatView + mirror + diffuse;
    const F least = 0.1f;  // of a lobe that is there
    const F coat = select(m_coatView > 0, max(least, m_coatView / sum), F(0)), shine = select(mirror > 0, max(least, mirror / sum), F(0)),
            rest = select(diffuse > 0, max(least, diffuse / sum), F(0));
    const F whole = coat + shine + rest;
    m_coatShare = coat / whole;
    m_mirrorShare = shine / whole;
}

template <class F>
typename LayeredSurfaceOf<F>::Value LayeredSurfaceOf<F>::evaluate(V3<F> light) const
{
    const EnergyTables& tables = energyTables();
    const V3<F> h = normalized(m_view + light);
    const F cosine = max(F(0), dot(m_view, h)), plain = 1 - m_material.metallic;

    // The base: its mirror layer or metal, and what that lets through both ways.
    const F d = ggxDistribution(h, m_alpha) / (4 * m_view.z);
    const F common = d / ((1 + m_lambda + smithLambda(light, m_alpha)) * light.z);
    V3<F> f = tinted(fresnelDielectric(cosine, m_layers.ior), F(1)) * (plain * common) +
              schlick(m_material.baseColour, cosine) * m_metalScale * (m_material.metallic * common);
    const V3<F> mirrorLight =
        tinted(layerTables().dielectric(light.z, m_material.roughness, m_layers.ior), tables.mirror(light.z, m_material.roughness));
    const V3<F> through = complement(m_mirrorView) * complement(mirrorLight);
    const V3<F> mean = complement(m_mirrorMean);
    const auto share = [](F a, F b) { return a / max(b, F(1e-4f)); };
    f += m_material.baseColour * V3<F>{share(through.x, mean.x), share(through.y, mean.y), share(through.z, mean.z)} *
         (plain * (1 / kPiFloat));
    F pdf = m_mirrorShare * d / (1 + m_lambda) + (1 - m_coatShare - m_mirrorShare) * light.z * (1 / kPiFloat);

    if (any(m_sheenView > 0)) {
        const F sheenLight = layerTables().sheen(light.z, m_layers.sheenRoughness);
        const F whole = max(m_sheenWhole, sheenLight), strongest = largestOf(m_layers.sheenColour);
        const F value = sheenOf(m_view, light, m_layers.sheenRoughness) / whole;
        f = m_layers.sheenColour * value + f * min(1 - m_sheenView, 1 - strongest * min(F(1), sheenLight));
    }
    if (any(m_coatView > 0)) {
        const F coatD = ggxDistribution(h, m_coatAlpha) / (4 * m_view.z);
        const F coat = m_layers.clearcoat * fresnelDielectric(cosine, kIndexOfRefraction) * coatD /
                       ((1 + m_coatLambda + smithLambda(light, m_coatAlpha)) * light.z);
        f = f * (1 - m_coatView) + V3<F>{coat, coat, coat};
        pdf += m_coatShare * coatD / (1 + m_coatLambda);
    }
    const auto above = light.z > 0;
    return {select(above, f, V3<F>{}), select(above, pdf, F(0))};
}

template <class F>
typename LayeredSurfaceOf<F>::Sample LayeredSurfaceOf<F>::sample(F choice, F u, F v) const
{
    const SinCos<F> turn = sinCosOf(v);
    const F r = root(u);
    const auto fromCoat = choice < m_coatShare;
    const V3<F> h = sampleGgxVisible(m_view, select(fromCoat, m_coatAlpha, m_alpha), u, v);
    const V3<F> direction = select(choice < m_coatShare + m_mirrorShare, h * (2 * dot(m_view, h)) - m_view,
                                   V3<F>{r * turn.cosine, r * turn.sine, root(max(F(0), 1 - u))});
    const Value value = evaluate(direction);
    const auto good = (direction.z > 1e-6f) & (value.pdf > 0);
    return {direction, select(good, value.f * (direction.z / value.pdf), V3<F>{}), select(good, value.pdf, F(0))};
}

template <class F>
V3<F> LayeredSurfaceOf<F>::albedo() const
{
    const F plain = 1 - m_material.metallic;
    V3<F> below = (complement(m_mirrorView) * m_material.baseColour + m_mirrorView) * plain + m_material.baseColour * m_material.metallic;
    below = below * (1 - m_sheenView) +
            m_layers.sheenColour * select(largestOf(m_layers.sheenColour) > 0, m_sheenView / largestOf(m_layers.sheenColour), F(0));
    return below * (1 - m_coatView) + V3<F>{m_coatView, m_coatView, m_coatView};
}

}  // namespace surface
