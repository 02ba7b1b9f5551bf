#include "render/material.h"

#include <cmath>

#include "render/energy.h"
#include "render/frame.h"

namespace render {

namespace {

float square(float v)
{
    return v * v;
}

// Smith's masking function Lambda for GGX.
float smithLambda(Vec3f w, float alpha)
{
    const float cos2 = square(w.z);
    if (cos2 <= 0)
        return 1e9f;
    return (std::sqrt(1 + square(alpha) * (1 - cos2) / cos2) - 1) / 2;
}

Rgb schlick(Rgb f0, float cosine)
{
    const float m = std::clamp(1 - cosine, 0.0f, 1.0f);
    const float m5 = square(square(m)) * m;
    return f0 + (Rgb{1, 1, 1} - f0) * m5;
}

}  // namespace

Polarised fresnelPolarised(float cosine, float eta)
{
    const float sin2 = (1 - square(cosine)) / square(eta);
    if (sin2 >= 1)
        return {1, 1};
    const float inner = std::sqrt(1 - sin2);
    return {square((eta * cosine - inner) / (eta * cosine + inner)), square((cosine - eta * inner) / (cosine + eta * inner))};
}

float fresnelDielectric(float cosine, float eta)
{
    const Polarised p = fresnelPolarised(std::clamp(cosine, 0.0f, 1.0f), eta);
    return (p.parallel + p.perpendicular) / 2;
}

float ggxDistribution(Vec3f h, float alpha)
{
    if (h.z <= 0)
        return 0;
    // 1 - h.z^2 from the tangent components keeps precision at small alpha.
    const float t = (square(h.x) + square(h.y)) / square(alpha) + square(h.z);
    return 1 / (kPi * square(alpha) * square(t));
}

float ggxVisibleDensity(Vec3f view, Vec3f h, float alpha)
{
    return ggxDistribution(h, alpha) * std::max(0.0f, dot(view, h)) / (view.z * (1 + smithLambda(view, alpha)));
}

Vec3f sampleGgxVisible(Vec3f view, float alpha, float u, float v)
{
    // Stretch so that the facets become a half ball, choose a point of its disc as seen from the view, and go back.
    const Vec3f stretched = normalized(Vec3f{alpha * view.x, alpha * view.y, view.z});
    const float flat2 = square(stretched.x) + square(stretched.y);
    const Vec3f t1 = flat2 > 0 ? Vec3f{-stretched.y, stretched.x, 0} * (1 / std::sqrt(flat2)) : Vec3f{1, 0, 0};
    const Vec3f t2 = cross(stretched, t1);
    const float r = std::sqrt(u), phi = 2 * kPi * v;
    const float a = r * std::cos(phi);
    const float s = (1 + stretched.z) / 2;
    const float b = (1 - s) * std::sqrt(std::max(0.0f, 1 - a * a)) + s * r * std::sin(phi);
    const Vec3f n = t1 * a + t2 * b + stretched * std::sqrt(std::max(0.0f, 1 - a * a - b * b));
    return normalized(Vec3f{alpha * n.x, alpha * n.y, std::max(1e-6f, n.z)});
}

Surface::Surface(const Material& material, Vec3f view) : m_material(material), m_view(view)
{
    m_alpha = std::max(kSmallestAlpha, square(material.roughness));
    m_hasLayer = material.specular > 0 && material.metallic < 1;
    m_mirrorView = m_hasLayer ? material.specular * energyTables().dielectric(view.z, material.roughness) : 0;
    if (!m_hasLayer && material.metallic <= 0) {  // matte: nothing but the diffuse base
        m_specularShare = 0;
        return;
    }
    if (material.metallic > 0) {
        const float whole = energyTables().mirror(view.z, material.roughness);
        m_metalScale = Rgb{1, 1, 1} + material.baseColour * ((1 - whole) / whole);
    }
    const float specular = (1 - material.metallic) * m_mirrorView +
                           material.metallic * std::max(0.05f, luminance(schlick(material.baseColour, view.z)));
    const float diffuse = (1 - material.metallic) * (1 - m_mirrorView) * std::max(0.01f, luminance(material.baseColour));
    m_specularShare = diffuse <= 0 ? 1 : specular <= 0 ? 0 : std::clamp(specular / (specular + diffuse), 0.1f, 0.9f);
}

Surface::Value Surface::evaluate(Vec3f light) const
{
    if (light.z <= 0)
        return {};
    float diffuse = (1 - m_material.metallic) / kPi;
    if (m_hasLayer) {
        const EnergyTables& energy = energyTables();
        const float mirrorLight = m_material.specular * energy.dielectric(light.z, m_material.roughness);
        const float mean = m_material.specular * energy.dielectricMean(m_material.roughness);
        diffuse *= (1 - m_mirrorView) * (1 - mirrorLight) / (1 - mean);
    }
    Value value{m_material.baseColour * diffuse, (1 - m_specularShare) * light.z / kPi};

    if (m_specularShare > 0) {
        const Vec3f h = normalized(m_view + light);
        const float d = ggxDistribution(h, m_alpha);
        const float lambdaView = smithLambda(m_view, m_alpha), lambdaLight = smithLambda(light, m_alpha);
        const float common = d / (1 + lambdaView + lambdaLight) / (4 * m_view.z * light.z);
        const float cosine = std::max(0.0f, dot(m_view, h));
        if (m_hasLayer) {
            const float plain = (1 - m_material.metallic) * m_material.specular * fresnelDielectric(cosine, kIndexOfRefraction) * common;
            value.f += Rgb{plain, plain, plain};
        }
        if (m_material.metallic > 0)
            value.f += schlick(m_material.baseColour, cosine) * m_metalScale * (m_material.metallic * common);
        value.pdf += m_specularShare * d / (4 * m_view.z * (1 + lambdaView));
    }
    return value;
}

Surface::Sample Surface::sample(float choice, float u, float v) const
{
    Sample sample;
    if (choice >= m_specularShare) {  // drawn from the diffuse base
        const float r = std::sqrt(u), phi = 2 * kPi * v;
        sample.direction = {r * std::cos(phi), r * std::sin(phi), std::sqrt(std::max(0.0f, 1 - u))};
    } else {
        const Vec3f h = sampleGgxVisible(m_view, m_alpha, u, v);
        sample.direction = h * (2 * dot(m_view, h)) - m_view;
    }
    if (sample.direction.z <= 1e-6f)
        return {};
    const Value value = evaluate(sample.direction);
    if (!(value.pdf > 0))
        return {};
    sample.pdf = value.pdf;
    sample.weight = value.f * (sample.direction.z / value.pdf);
    return sample;
}

Rgb Surface::albedo() const
{
    const Rgb base = m_material.baseColour * ((1 - m_material.metallic) * (1 - m_mirrorView));
    const float plain = (1 - m_material.metallic) * m_mirrorView;
    return base + Rgb{plain, plain, plain} + m_material.baseColour * m_material.metallic;
}

}  // namespace render
