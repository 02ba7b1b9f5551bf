// How a material sends light back.
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

#include "base/lanes.h"
#include "surface/energy.h"
#include "surface/material.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

inline constexpr float kIndexOfRefraction = 1.5f;
inline constexpr float kSmallestAlpha = 1e-3f;  // roughness 0.03: smoother looks the same and samples badly

template <class F>
F squared(F v)
{
    return v * v;
}

// Share of unpolarised light a dielectric with relative index `eta` reflects; cosine on the incident side, 0 to 1.
template <class F>
struct Polarised {
    F parallel, perpendicular;
};
template <class F, class Eta>
Polarised<F> fresnelPolarised(F cosine, Eta eta)
{
    const F sin2 = (1 - squared(cosine)) / (eta * eta), inner = root(max(F(0), 1 - sin2));
    const auto total = sin2 >= 1;
    return {select(total, F(1), squared((eta * cosine - inner) / (eta * cosine + inner))),
            select(total, F(1), squared((cosine - eta * inner) / (cosine + eta * inner)))};
}
template <class F, class Eta>
F fresnelDielectric(F cosine, Eta eta)
{
    const Polarised<F> p = fresnelPolarised(clamped(cosine, F(0), F(1)), eta);
    return (p.parallel + p.perpendicular) * 0.5f;
}
// Where light from `view` goes beyond a facet with normal `h`, which is on the view's side; `eta` is the index beyond over that before.
// Of no use where all is reflected.
template <class F>
V3<F> refracted(V3<F> view, V3<F> h, F eta)
{
    const F cosine = dot(view, h), sin2 = (1 - squared(cosine)) / squared(eta);
    return h * (cosine / eta - root(max(F(0), 1 - sin2))) - view * (1 / eta);
}
template <class F>
V3<F> schlick(V3<F> f0, F cosine)
{
    const F m = clamped(1 - cosine, F(0), F(1)), m5 = squared(squared(m)) * m;
    return f0 + (V3<F>{1, 1, 1} - f0) * m5;
}

// Smith's masking function Lambda for GGX.
template <class F>
F smithLambda(V3<F> w, F alpha)
{
    const F cos2 = squared(w.z);
    return select(cos2 > 0, (root(1 + squared(alpha) * (1 - cos2) / cos2) - 1) * 0.5f, F(1e9f));
}

// The same where facets are as rough along x as `alphaX` and along y as `alphaY` says (E. Heitz 2014, 5.4).
template <class F>
F smithLambda(V3<F> w, F alphaX, F alphaY)
{
    const F cos2 = squared(w.z);
    return select(cos2 > 0, (root(1 + (squared(alphaX * w.x) + squared(alphaY * w.y)) / cos2) - 1) * 0.5f, F(1e9f));
}

// GGX distribution of facet normals; the visible-normal density of h seen from `view`; and one drawn from it.
template <class F>
F ggxDistribution(V3<F> h, F alpha)
{
    // 1 - h.z^2 from the tangent components keeps precision at small alpha.
    const F t = (squared(h.x) + squared(h.y)) / squared(alpha) + squared(h.z);
    return select(h.z > 0, 1 / (kPiFloat * squared(alpha) * squared(t)), F(0));
}
template <class F>
F ggxDistribution(V3<F> h, F alphaX, F alphaY)
{
    const F t = squared(h.x / alphaX) + squared(h.y / alphaY) + squared(h.z);
    return select(h.z > 0, 1 / (kPiFloat * alphaX * alphaY * squared(t)), F(0));
}
template <class F>
F ggxVisibleDensity(V3<F> view, V3<F> h, F alpha)
{
    return ggxDistribution(h, alpha) * max(F(0), dot(view, h)) / (view.z * (1 + smithLambda(view, alpha)));
}
template <class F>
V3<F> sampleGgxVisible(V3<F> view, F alphaX, F alphaY, F u, F v)
{
    // Stretch so that the facets become a half ball, choose a point of its disc as seen from the view, and go back.
    const V3<F> stretched = normalized(V3<F>{alphaX * view.x, alphaY * view.y, view.z});
    const F flat2 = squared(stretched.x) + squared(stretched.y);
    const V3<F> t1 = select(flat2 > 0, V3<F>{-stretched.y, stretched.x, 0} * (1 / root(flat2)), V3<F>{1, 0, 0});
    const V3<F> t2 = cross(stretched, t1);
    const SinCos<F> turn = sinCosOf(v);
    const F r = root(u), a = r * turn.cosine, s = (1 + stretched.z) * 0.5f;
    const F b = (1 - s) * root(max(F(0), 1 - a * a)) + s * r * turn.sine;
    const V3<F> n = t1 * a + t2 * b + stretched * root(max(F(0), 1 - a * a - b * b));
    return normalized(V3<F>{alphaX * n.x, alphaY * n.y, max(F(1e-6f), n.z)});
}
template <class F>
V3<F> sampleGgxVisible(V3<F> view, F alpha, F u, F v)
{
    return sampleGgxVisible(view, alpha, alpha, u, v);
}

// A material prepared for one viewing direction. View must have z > 0.
template <class F>
class SurfaceOf {
public:
    SurfaceOf(const MaterialOf<F>& material, V3<F> view);

    struct Value {
        V3<F> f;    // reflected radiance per irradiance, without the cosine
        F pdf = 0;  // density with which sample() draws this direction, per steradian
    };
    Value evaluate(V3<F> light) const;

    struct Sample {
        V3<F> direction;
        V3<F> weight;  // f cos / pdf
        F pdf = 0;
    };
    // pdf 0 where nothing is reflected.
    Sample sample(F choice, F u, F v) const { return towards(draw(choice, u, v)); }
    // The two steps of it: a direction, 0 where one is lost; and what a way there counts that sample() could have drawn.
    V3<F> draw(F choice, F u, F v) const;
    Sample towards(V3<F> direction) const;

    // Chance that sample() takes the diffuse lobe, as it does with the last of all choices.
    F diffuseShare() const { return 1 - m_specularShare; }
    // Share of light from everywhere that goes towards the view, by the tables (for guides and tests).
    V3<F> albedo() const;

private:
    using Condition = decltype(F() < F());

    MaterialOf<F> m_material;
    V3<F> m_view;
    F m_alpha = 0, m_lambda = 0;           // of the view
    Condition m_hasLayer{};                // a dielectric's mirror layer is there
    F m_mirrorView = 0, m_mirrorMean = 0;  // dielectric mirror layer's albedo, towards the view and over all, times specular
    V3<F> m_metalScale;
    F m_specularShare = 0;  // chance that sample() picks the mirror lobe
};
using Surface = SurfaceOf<float>;

template <class F>
SurfaceOf<F>::SurfaceOf(const MaterialOf<F>& material, V3<F> view)
    : m_material(material),
      m_view(view),
      m_alpha(max(F(kSmallestAlpha), squared(material.roughness))),
      m_lambda(smithLambda(view, m_alpha)),
      m_hasLayer((material.specular > 0) & (material.metallic < 1))
{
    const EnergyTables& tables = energyTables();
    if (any(m_hasLayer)) {
        m_mirrorView = select(m_hasLayer, material.specular * tables.dielectric(view.z, material.roughness), F(0));
        m_mirrorMean = material.specular * tables.dielectricMean(material.roughness);
    }
    F specular = (1 - material.metallic) * m_mirrorView;
    if (any(material.metallic > 0)) {
        const F all = tables.mirror(view.z, material.roughness);
        m_metalScale = V3<F>{1, 1, 1} + material.baseColour * ((1 - all) / all);
        specular += material.metallic * max(F(0.05f), luminance(schlick(material.baseColour, view.z)));
    }
    const F diffuse = (1 - material.metallic) * (1 - m_mirrorView) * max(F(0.01f), luminance(material.baseColour));
    m_specularShare = select(diffuse > 0, select(specular > 0, clamped(specular / (specular + diffuse), F(0.1f), F(0.9f)), F(0)), F(1));
}

template <class F>
typename SurfaceOf<F>::Value SurfaceOf<F>::evaluate(V3<F> light) const
{
    F diffuse = (1 - m_material.metallic) * (1 / kPiFloat);
    if (any(m_hasLayer)) {
        const F mirrorLight = m_material.specular * energyTables().dielectric(light.z, m_material.roughness);
        diffuse = select(m_hasLayer, diffuse * ((1 - m_mirrorView) * (1 - mirrorLight) / (1 - m_mirrorMean)), diffuse);
    }
    Value value{m_material.baseColour * diffuse, (1 - m_specularShare) * light.z * (1 / kPiFloat)};

    const auto shines = m_specularShare > 0;
    if (any(shines)) {
        const V3<F> h = normalized(m_view + light);
        const F d = ggxDistribution(h, m_alpha) / (4 * m_view.z), cosine = max(F(0), dot(m_view, h));
        const F common = d / ((1 + m_lambda + smithLambda(light, m_alpha)) * light.z);
        V3<F> f;
        if (any(m_hasLayer)) {
            const F plain = select(
                m_hasLayer, (1 - m_material.metallic) * m_material.specular * fresnelDielectric(cosine, kIndexOfRefraction) * common, F(0));
            f += V3<F>{plain, plain, plain};
        }
        if (any(m_material.metallic > 0))
            f += schlick(m_material.baseColour, cosine) * m_metalScale * (m_material.metallic * common);
        value.f = select(shines, value.f + f, value.f);
        value.pdf = select(shines, value.pdf + m_specularShare * d / (1 + m_lambda), value.pdf);
    }
    const auto above = light.z > 0;
    return {select(above, value.f, V3<F>{}), select(above, value.pdf, F(0))};
}

template <class F>
V3<F> SurfaceOf<F>::draw(F choice, F u, F v) const
{
    const auto fromBase = choice >= m_specularShare;
    const SinCos<F> turn = sinCosOf(v);
    const F r = root(u);
    V3<F> direction{r * turn.cosine, r * turn.sine, root(max(F(0), 1 - u))};
    if (any(choice < m_specularShare)) {
        const V3<F> h = sampleGgxVisible(m_view, m_alpha, u, v);
        direction = select(fromBase, direction, h * (2 * dot(m_view, h)) - m_view);
    }
    return select(direction.z > 1e-6f, direction, V3<F>{});
}

template <class F>
typename SurfaceOf<F>::Sample SurfaceOf<F>::towards(V3<F> direction) const
{
    const Value value = evaluate(direction);
    const auto good = value.pdf > 0;
    return {direction, select(good, value.f * (direction.z / value.pdf), V3<F>{}), select(good, value.pdf, F(0))};
}

template <class F>
V3<F> SurfaceOf<F>::albedo() const
{
    const F plain = (1 - m_material.metallic) * m_mirrorView;
    return m_material.baseColour * ((1 - m_material.metallic) * (1 - m_mirrorView)) + V3<F>{plain, plain, plain} +
           m_material.baseColour * m_material.metallic;
}

}  // namespace surface
