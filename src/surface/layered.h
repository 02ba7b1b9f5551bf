// How a material with further layers sends light back: as surface.h, and from the outside in
// - a clear coat of index 1.5 (KHR_materials_clearcoat): what it lets through, by its albedo towards the view, is what is below;
// - a sheen (KHR_materials_sheen): the distribution of A. Estevez and C. Kulla, Production friendly microfacet sheen BRDF, 2017, with the
//   visibility of D. Neubelt and M. Pettineo, Crafting a next-gen material pipeline, 2013; what is below is scaled as that extension says;
// - the base, whose mirror layer may have another index of refraction (KHR_materials_ior) and a colour seen head on
//   (KHR_materials_specular); it keeps its Fresnel curve towards grazing angles.
// - where the base is clear (KHR_materials_transmission), light is bent into a solid (B. Walter and others, Microfacet models for
// refraction
//   through rough surfaces, 2007; what would bounce between facets scales both ways), or goes straight on through a thin pane, whose two
//   sides reflect 2 F / (1 + F); both are coloured by the base colour, and what a solid absorbs inside is not part of this;
// - where it is translucent (KHR_materials_diffuse_transmission), its diffuse light goes through: wax, soap, paper. In a solid it crosses
// the
//   inside straight, from wall to wall: an honest half of what scatters inside, at no cost.
// - facets may be rougher along x (KHR_materials_anisotropy, E. Heitz 2014): brushed metal, satin. Glass takes no part in it.
// - a thin film over the base (KHR_materials_iridescence, thin_film.h) stands for its Fresnel share, of dielectrics, metals and glass.
// - the coat may lie smooth over a relief: its normal is its own.
// Radiance inside is divided by the square of the index (basic radiance, W. Nicodemus): nothing is scaled where light goes in and out.
//
// All but the coat's, the glass's and the metal's scaling is reciprocal. Materials without layers look as Surface makes them, to 1e-3.
//
// Directions as in surface.h; x is where the highlight is drawn out.
#pragma once

#include "base/frame.h"
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

// What a film may be asked for.
inline constexpr auto kLayerFilm = [](const ThinFilm& film, float cosine, float) { return film.layer(cosine); };
inline constexpr auto kMetalFilm = [](const ThinFilm& film, float cosine, float) { return film.metal(cosine); };

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

    // `eta`: index of refraction beyond the surface over that before it; 0 as seen from outside, in air. `coatNormal`: unit, of the coat.
    LayeredSurfaceOf(const MaterialOf<F>& material, const LayersOf<F>& layers, V3<F> view, F eta = 0, V3<F> coatNormal = {0, 0, 1});

    // As Surface's; directions with z < 0 are beyond.
    Value evaluate(V3<F> light) const;
    Sample sample(F choice, F u, F v) const { return towards(draw(choice, u, v)); }
    V3<F> draw(F choice, F u, F v) const;
    Sample towards(V3<F> direction) const;
    V3<F> albedo() const;
    // As Surface's; 0 where light goes through.
    F diffuseShare() const { return select(m_layers.letsThrough(), F(0), 1 - m_coatShare - m_mirrorShare - m_clearShare); }
    // Light goes through it; mostly as through a window.
    auto letsThrough() const { return m_layers.letsThrough(); }
    auto isWindow() const { return (m_clear > 0.5f) & (m_material.roughness < 0.3f); }

private:
    // Of a dielectric's mirror layer: `plain` is its value for a layer that is not coloured, `white` for one that reflects all.
    V3<F> tinted(F plain, F white) const
    {
        const F curved = (plain - m_headOn * white) / (1 - m_headOn);
        return (m_tint * (white - curved) + V3<F>{curved, curved, curved}) * m_material.specular;
    }
    V3<F> reflectedByGlass(F cosine) const;
    // What a facet of the base reflects: as a dielectric, with its strength, and as a metal.
    V3<F> reflectedByLayer(F cosine) const;
    V3<F> reflectedByMetal(F cosine) const;
    // Albedo of the dielectric's mirror layer towards a direction, where perfect mirrors' facets send back `all`.
    V3<F> layerAlbedo(V3<F> w, F all) const;
    F mirrorAlbedo(V3<F> w) const;
    // What a dielectric's layer sends back when it is brushed: `even` it sends back when it is not, with `plain` and `mirror` of index 1.5
    // and of a perfect one, and `turned` and `all` of these two brushed. What Fresnel's curve adds to what is reflected head on goes as
    // theirs.
    F turnedDielectric(F even, F plain, F mirror, F turned, F all) const
    {
        constexpr float kPlainHeadOn = 0.04f;
        const auto over = [](F whole, F mirrors, F headOn) { return (whole - headOn * mirrors) / (1 - headOn); };
        const F rises = over(even, mirror, m_headOn) * over(turned, all, kPlainHeadOn) / max(F(1e-3f), over(plain, mirror, kPlainHeadOn));
        return clamped(m_headOn * all + (1 - m_headOn) * rises, F(0), all);
    }
    // Of the base's facets.
    F lambdaOf(V3<F> w) const { return m_brushes ? smithLambda(w, m_alphaX, m_alpha) : smithLambda(w, m_alpha); }
    F distributionOf(V3<F> h) const { return m_brushes ? ggxDistribution(h, m_alphaX, m_alpha) : ggxDistribution(h, m_alpha); }
    V3<F> inCoat(V3<F> w) const { return m_coatTurns ? m_coatFrame.toLocal(w) : w; }
    template <class Ask>
    V3<F> withFilm(V3<F> plain, F at, F strength, const Ask& ask) const
    {
        return m_filmed ? lerp(plain, m_layers.film.ask(ask, at, m_material.roughness) * strength, m_layers.iridescence) : plain;
    }
    void addGlass(V3<F> light, F d, F common, F cosine, V3<F>& f, F& pdf) const;
    static F largestOf(V3<F> a) { return max(a.x, max(a.y, a.z)); }
    static V3<F> complement(V3<F> a) { return {1 - a.x, 1 - a.y, 1 - a.z}; }

    MaterialOf<F> m_material;
    LayersOf<F> m_layers;
    V3<F> m_view;
    F m_alpha = 0, m_alphaX = 0, m_lambda = 0, m_coatAlpha = 0, m_coatLambda = 0;
    F m_brushed = 0;                                                // anisotropy that counts
    bool m_brushes = false, m_filmed = false, m_coatTurns = false;  // some of them
    FrameOf<F> m_coatFrame;
    V3<F> m_coatFrom;                  // the view from the coat
    F m_headOn = 0;                    // share a layer of that index reflects head on
    V3<F> m_tint;                      // the same with its colour
    V3<F> m_mirrorView, m_mirrorMean;  // albedo of the mirror layer, towards the view and over all
    V3<F> m_metalScale;
    F m_coatView = 0, m_sheenView = 0;                       // albedos towards the view; the sheen's for its strongest colour
    F m_sheenWhole = 1;                                      // what a white sheen is divided by so that it is never over 1
    F m_clear = 0, m_eta, m_clearScale;                      // share of glass, its index beyond over before, and what it is scaled by
    F m_through = 0;                                         // share of diffuse light that goes through
    F m_coatShare = 0, m_mirrorShare = 0, m_clearShare = 0;  // chances of sample()
};
using LayeredSurface = LayeredSurfaceOf<float>;

template <class F>
LayeredSurfaceOf<F>::LayeredSurfaceOf(const MaterialOf<F>& material, const LayersOf<F>& layers, V3<F> view, F eta, V3<F> coatNormal)
    : m_material(material), m_layers(layers), m_view(view), m_coatFrame(coatNormal), m_eta(layers.ior)
{
    const EnergyTables& tables = energyTables();
    const LayerTables& more = layerTables();
    const auto solid = layers.solid > 0;
    if (any(layers.letsThrough())) {
        m_through = layers.translucency;
        m_clear = (1 - material.metallic) * layers.transmission;
        m_eta = select(solid & (eta > 0), eta, m_eta);
        // Where nothing is bent, facets do not count.
        const auto even = solid & (layers.transmission > 0) & (absolute(m_eta - 1) < 1e-3f);
        m_eta = select(even, F(1.001f), m_eta);
        m_material.roughness = select(even, F(0), material.roughness);
    }
    const F roughness = m_material.roughness;
    m_alpha = m_alphaX = max(F(kSmallestAlpha), squared(roughness));
    m_brushed = select(layers.letsThrough(), F(0), layers.anisotropy);
    m_brushes = any(m_brushed > 0);
    if (m_brushes)
        m_alphaX = m_alpha + (1 - m_alpha) * squared(m_brushed);
    m_filmed = any(layers.iridescence > 0);
    m_lambda = lambdaOf(view);
    m_coatAlpha = max(F(kSmallestAlpha), squared(layers.clearcoatRoughness));
    m_coatTurns = any((layers.clearcoat > 0) & (coatNormal.z < 1));
    m_coatFrom = inCoat(view);
    const auto coatSeen = m_coatFrom.z > 1e-3f;  // a relief may look at what its coat does not
    m_coatFrom.z = max(F(1e-3f), m_coatFrom.z);
    m_coatLambda = smithLambda(m_coatFrom, m_coatAlpha);
    m_headOn = squared((layers.ior - 1) / (layers.ior + 1));
    m_tint = layers.specularColour * m_headOn;
    m_tint = {min(m_tint.x, F(1)), min(m_tint.y, F(1)), min(m_tint.z, F(1))};
    const F all = mirrorAlbedo(view);
    m_mirrorView = layerAlbedo(view, all);
    F mean = more.dielectricMean(roughness, layers.ior), allMean = tables.mirrorMean(roughness);
    if (m_brushes) {
        const auto brushed = m_brushed > 0;
        const F even = allMean;
        allMean = select(brushed, anisotropyTables().mirrorMean(roughness, m_brushed), allMean);
        mean = select(brushed,
                      turnedDielectric(mean, tables.dielectricMean(roughness), even,
                                       anisotropyTables().dielectricMean(roughness, m_brushed), allMean),
                      mean);
    }
    m_mirrorMean =
        withFilm(tinted(mean, allMean), F(1), material.specular, [](const ThinFilm& film, float, float r) { return film.layerMean(r); });
    m_metalScale = V3<F>{1, 1, 1} + withFilm(material.baseColour, F(1), F(1), kMetalFilm) * ((1 - all) / all);
    m_coatView = select(coatSeen, layers.clearcoat * tables.dielectric(m_coatFrom.z, layers.clearcoatRoughness), F(0));
    const F sheen = more.sheen(view.z, layers.sheenRoughness);
    m_sheenWhole = max(F(1), sheen);
    m_sheenView = largestOf(layers.sheenColour) * sheen / m_sheenWhole;

    F clear = 0;
    if (any(m_clear > 0)) {
        const F both = glassTables().both(view.z, roughness, m_eta);
        F kept = both;
        if (m_filmed) {
            // A film shares light out anew: of what comes back and what goes through, the one that less of is lost of counts.
            const F back = more.dielectric(view.z, roughness, layers.ior);
            const F through = select(m_eta > 1, (both - back) / max(F(0.01f), 1 - back / all), both);
            // Facets that reflect more are not those that lose less: measured, that makes under 4 %.
            kept = select(layers.iridescence > 0, min(F(1), max(all, through)) * (1 + 0.04f * squared(roughness)), both);
        }
        m_clearScale = 1 / select(solid, kept, all);
        clear = (1 - m_coatView) * (1 - m_sheenView) * m_clear;
    }
    const F below = 1 - m_coatView, base = below * (1 - m_sheenView), plain = (1 - material.metallic) * (1 - layers.transmission);
    const F mirror = base * (plain * luminance(m_mirrorView) + material.metallic * max(F(0.05f), luminance(reflectedByMetal(view.z))));
    const F diffuse = below * m_sheenView + base * plain * max(F(0.01f), luminance(complement(m_mirrorView) * material.baseColour));
    const F sum = m_coatView + mirror + clear + diffuse;
    const F least = 0.1f;  // of a lobe that is there
    const F coat = select(m_coatView > 0, max(least, m_coatView / sum), F(0)), shine = select(mirror > 0, max(least, mirror / sum), F(0)),
            glass = select(clear > 0, max(least, clear / sum), F(0)), rest = select(diffuse > 0, max(least, diffuse / sum), F(0));
    const F whole = coat + shine + glass + rest;
    m_coatShare = coat / whole;
    m_mirrorShare = shine / whole;
    m_clearShare = glass / whole;
}

template <class F>
F LayeredSurfaceOf<F>::mirrorAlbedo(V3<F> w) const
{
    const F even = energyTables().mirror(absolute(w.z), m_material.roughness);
    return m_brushes ? select(m_brushed > 0, anisotropyTables().mirror(w, m_material.roughness, m_brushed), even) : even;
}

template <class F>
V3<F> LayeredSurfaceOf<F>::layerAlbedo(V3<F> w, F all) const
{
    const F cosine = absolute(w.z), roughness = m_material.roughness;
    F plain = layerTables().dielectric(cosine, roughness, m_layers.ior);
    if (m_brushes)
        plain = select(m_brushed > 0,
                       turnedDielectric(plain, energyTables().dielectric(cosine, roughness), energyTables().mirror(cosine, roughness),
                                        anisotropyTables().dielectric(w, roughness, m_brushed), all),
                       plain);
    return withFilm(tinted(plain, all), cosine, m_material.specular,
                    [](const ThinFilm& film, float c, float r) { return film.layerAlbedo(c, r); });
}

template <class F>
V3<F> LayeredSurfaceOf<F>::reflectedByLayer(F cosine) const
{
    return withFilm(tinted(fresnelDielectric(cosine, m_layers.ior), F(1)), cosine, m_material.specular, kLayerFilm);
}

template <class F>
V3<F> LayeredSurfaceOf<F>::reflectedByMetal(F cosine) const
{
    return withFilm(schlick(m_material.baseColour, cosine), cosine, F(1), kMetalFilm);
}

// Of a facet of glass.
template <class F>
V3<F> LayeredSurfaceOf<F>::reflectedByGlass(F cosine) const
{
    const F plain = fresnelDielectric(cosine, m_eta);
    V3<F> once = tinted(plain, F(1));
    if (m_filmed) {
        // From inside, the film is as it is from outside for the way that is bent.
        const F outside = root(max(F(0), 1 - (1 - squared(cosine)) / squared(m_eta)));
        once = withFilm(once, select((m_layers.solid > 0) & (m_eta < 1), outside, cosine), m_material.specular, kLayerFilm);
    }
    once = select(plain >= 1, V3<F>{1, 1, 1}, once);
    const auto pane = [](F r) { return 2 * r / (1 + r); };
    return select(m_layers.solid > 0, once, V3<F>{pane(once.x), pane(once.y), pane(once.z)});
}

// What glass sends back and lets through; `d`, `common` and `cosine` are of the facet that reflects.
template <class F>
void LayeredSurfaceOf<F>::addGlass(V3<F> light, F d, F common, F cosine, V3<F>& f, F& pdf) const
{
    const auto above = light.z > 0, solid = m_layers.solid > 0;
    const F amount = m_clear * m_clearScale;
    const V3<F> back = reflectedByGlass(cosine);
    f += select(above, back * (amount * common), V3<F>{});
    pdf += select(above, m_clearShare * luminance(back) * d / (1 + m_lambda), F(0));
    if (!any(!above))
        return;
    // The facet that bends this way; of a pane, the one that would reflect the way's mirror picture.
    V3<F> h = normalized(select(solid, m_view + light * m_eta, m_view + V3<F>{light.x, light.y, -light.z}));
    h = select(h.z < 0, -h, h);
    const F before = dot(m_view, h), beyond = dot(light, h);
    const auto there = (!above) & (before > 0) & ((beyond < 0) | (!solid));
    const V3<F> reflected = reflectedByGlass(before);
    const F facets = ggxDistribution(h, m_alpha) / m_view.z;
    const F bent = squared(m_eta) * absolute(beyond) / max(F(1e-12f), squared(before + m_eta * beyond));
    const F visible = facets / (1 + m_lambda) * select(solid, before * bent, F(0.25f));
    const F lambda = smithLambda(light, m_alpha), seen = select(solid, visible / (1 + lambda), 0.25f * facets / (1 + m_lambda + lambda));
    f += select(there, m_material.baseColour * complement(reflected) * (amount * seen / max(F(1e-6f), -light.z)), V3<F>{});
    pdf += select(there, m_clearShare * (1 - luminance(reflected)) * visible, F(0));
}

template <class F>
typename LayeredSurfaceOf<F>::Value LayeredSurfaceOf<F>::evaluate(V3<F> light) const
{
    const V3<F> h = normalized(m_view + light);
    const F cosine = max(F(0), dot(m_view, h)), plain = (1 - m_material.metallic) * (1 - m_layers.transmission);
    const auto above = light.z > 0;
    const F steep = absolute(light.z);

    // The base: its mirror layer or metal, and what that lets through both ways.
    const F d = distributionOf(h) / (4 * m_view.z);
    const F common = d / ((1 + m_lambda + lambdaOf(light)) * light.z);
    V3<F> f = reflectedByLayer(cosine) * (plain * common) + reflectedByMetal(cosine) * m_metalScale * (m_material.metallic * common);
    f = select(above, f, V3<F>{});
    F pdf = select(above, m_mirrorShare * d / (1 + m_lambda), F(0));
    const V3<F> mirrorLight = layerAlbedo(light, mirrorAlbedo(light));
    const V3<F> through = complement(m_mirrorView) * complement(mirrorLight);
    const V3<F> mean = complement(m_mirrorMean);
    const auto share = [](F a, F b) { return a / max(b, F(1e-4f)); };
    const F side = select(above, 1 - m_through, m_through);
    f += m_material.baseColour * V3<F>{share(through.x, mean.x), share(through.y, mean.y), share(through.z, mean.z)} *
         (plain * side * (1 / kPiFloat));
    pdf += (1 - m_coatShare - m_mirrorShare - m_clearShare) * side * steep * (1 / kPiFloat);
    if (any(m_clear > 0))
        addGlass(light, d, common, cosine, f, pdf);

    if (any(m_sheenView > 0)) {
        const F sheenLight = layerTables().sheen(steep, m_layers.sheenRoughness);
        const F whole = max(m_sheenWhole, sheenLight), strongest = largestOf(m_layers.sheenColour);
        const F value = select(above, sheenOf(m_view, light, m_layers.sheenRoughness) / whole, F(0));
        f = m_layers.sheenColour * value + f * min(1 - m_sheenView, 1 - strongest * min(F(1), sheenLight));
    }
    if (any(m_coatView > 0)) {
        // Irradiance is counted on the base, so the coat's own cosine goes out.
        const V3<F> to = inCoat(light);
        const F coatD = ggxDistribution(inCoat(h), m_coatAlpha) / (4 * m_coatFrom.z);
        const F coat = select(above & (to.z > 0),
                              m_layers.clearcoat * fresnelDielectric(cosine, kIndexOfRefraction) * coatD /
                                  ((1 + m_coatLambda + smithLambda(to, m_coatAlpha)) * light.z),
                              F(0));
        f = f * (1 - m_coatView) + V3<F>{coat, coat, coat};
        pdf += select(above, m_coatShare * coatD / (1 + m_coatLambda), F(0));
    }
    const auto good = above | ((light.z < 0) & m_layers.letsThrough());
    return {select(good, f, V3<F>{}), select(good, pdf, F(0))};
}

template <class F>
V3<F> LayeredSurfaceOf<F>::draw(F choice, F u, F v) const
{
    const SinCos<F> turn = sinCosOf(v);
    const F r = root(u), mirrors = m_coatShare + m_mirrorShare, facets = mirrors + m_clearShare;
    const auto fromCoat = choice < m_coatShare;
    V3<F> h = sampleGgxVisible(select(fromCoat, m_coatFrom, m_view), select(fromCoat, m_coatAlpha, m_alphaX),
                               select(fromCoat, m_coatAlpha, m_alpha), u, v);
    if (m_coatTurns)
        h = select(fromCoat, m_coatFrame.toWorld(h), h);
    const V3<F> mirrored = h * (2 * dot(m_view, h)) - m_view;
    V3<F> direction = select(choice < facets, mirrored, V3<F>{r * turn.cosine, r * turn.sine, root(max(F(0), 1 - u))});
    auto good = direction.z > 1e-6f;  // what steep facets send to the wrong side is lost
    if (any(m_layers.letsThrough())) {
        // Where in its lobe the choice falls says whether light goes back or through.
        const auto straight = choice >= facets, clear = (choice >= mirrors) & !straight;
        const F within = select(straight, (choice - facets) / max(F(1e-6f), 1 - facets), (choice - mirrors) / max(F(1e-6f), m_clearShare));
        const V3<F> beyond =
            select((m_layers.solid > 0) & clear, refracted(m_view, h, m_eta), V3<F>{direction.x, direction.y, -direction.z});
        const auto through = (straight & (within < m_through)) | (clear & (within >= luminance(reflectedByGlass(dot(m_view, h)))));
        direction = select(through, beyond, direction);
        good = (through & (direction.z < -1e-6f)) | ((!through) & (direction.z > 1e-6f));
    }
    return select(good, direction, V3<F>{});
}

template <class F>
typename LayeredSurfaceOf<F>::Sample LayeredSurfaceOf<F>::towards(V3<F> direction) const
{
    const Value value = evaluate(direction);
    const auto good = value.pdf > 0;
    return {direction, select(good, value.f * (absolute(direction.z) / value.pdf), V3<F>{}), select(good, value.pdf, F(0))};
}

template <class F>
V3<F> LayeredSurfaceOf<F>::albedo() const
{
    const F plain = (1 - m_material.metallic) * (1 - m_layers.transmission);
    V3<F> below = (complement(m_mirrorView) * m_material.baseColour + m_mirrorView) * plain +
                  withFilm(m_material.baseColour, m_view.z, F(1), kMetalFilm) * m_material.metallic;
    // Glass is as bright as what is behind.
    below += (m_material.baseColour * (1 - m_headOn) + V3<F>{m_headOn, m_headOn, m_headOn}) * m_clear;
    below = below * (1 - m_sheenView) +
            m_layers.sheenColour * select(largestOf(m_layers.sheenColour) > 0, m_sheenView / largestOf(m_layers.sheenColour), F(0));
    return below * (1 - m_coatView) + V3<F>{m_coatView, m_coatView, m_coatView};
}

}  // namespace surface
