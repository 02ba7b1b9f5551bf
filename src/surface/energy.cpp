#include "surface/energy.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

#include "surface/layered.h"

namespace surface {

namespace {

constexpr int kSteepness = 48, kTurns = 16;  // points of the quadrature

// Cosines are stored by their square root: the albedo changes fastest at grazing angles.
float cosineOf(int i, int count)
{
    const float t = std::max(0.02f, static_cast<float>(i) / static_cast<float>(count - 1));
    return t * t;
}

// A white sheen's, by the midpoint rule; cosines crowd at grazing angles, where it is strongest.
float sheenAlbedo(float cosine, float roughness)
{
    constexpr int kSteps = 64;
    const Vec3f view{std::sqrt(1 - cosine * cosine), 0, cosine};
    double sum = 0;
    for (int i = 0; i < kSteps; ++i)
        for (int j = 0; j < kSteps; ++j) {
            const float t = (static_cast<float>(i) + 0.5f) / kSteps, z = t * t, phi = kPiFloat * (static_cast<float>(j) + 0.5f) / kSteps;
            const float s = std::sqrt(1 - z * z);
            const Vec3f light{s * std::cos(phi), s * std::sin(phi), z};
            sum += 2 * kPiFloat * sheenOf(view, light, roughness) * z * 2 * t / (kSteps * kSteps);
        }
    return static_cast<float>(sum);
}

// By quadrature over the layer's own sampling; of facets that are alike to all sides half a turn does.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
findAlbedos(float cosine, float roughness, float ior, float& mirror, float& dielectric)
{
    const Wide alpha = std::max(kSmallestAlpha, roughness * roughness);
    const V3<Wide> view{std::sqrt(1 - cosine * cosine), 0, cosine};
    Wide mirrors, dielectrics;
    for (int i = 0; i < kSteepness; ++i)
        for (int j = 0; j < kTurns; j += kLanes) {
            // Steep facets, u near 1, decide what is lost: points crowd there. Left and right are alike: half a turn.
            const float t = (static_cast<float>(i) + 0.5f) / kSteepness, weight = 2 * (1 - t) / (kSteepness * kTurns);
            const Wide turn = 0.25f + (asFloat(WideInt::countingFrom(j)) + 0.5f) * (0.5f / kTurns);
            const V3<Wide> h = sampleGgxVisible(view, alpha, Wide(1 - (1 - t) * (1 - t)), turn);
            const V3<Wide> light = h * (2 * dot(view, h)) - view;
            const Wide lambda = smithLambda(view, alpha), share = weight * (1 + lambda) / (1 + lambda + smithLambda(light, alpha));
            const Mask above = light.z > 0;
            mirrors += select(above, share, Wide(0));
            dielectrics += select(above, share * fresnelDielectric(dot(view, h), ior), Wide(0));
        }
    mirror = dielectric = 0;
    for (int lane = 0; lane < kLanes; ++lane) {
        mirror += mirrors[lane];
        dielectric += dielectrics[lane];
    }
}

// The same of facets that are rougher along x, whose view is turned so that `along` of what is level of it is along x.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
findTurnedAlbedos(float cosine, float along, float roughness, float strength, float& mirror, float& dielectric)
{
    constexpr int kWholeTurns = 2 * kTurns;
    const Wide alphaY = std::max(kSmallestAlpha, roughness * roughness), alphaX = alphaY + (1 - alphaY) * (strength * strength);
    const float level = std::sqrt(1 - cosine * cosine);
    const V3<Wide> view{level * std::sqrt(along), level * std::sqrt(1 - along), cosine};
    const Wide lambda = smithLambda(view, alphaX, alphaY);
    Wide mirrors, dielectrics;
    for (int i = 0; i < kSteepness; ++i)
        for (int j = 0; j < kWholeTurns; j += kLanes) {
            const float t = (static_cast<float>(i) + 0.5f) / kSteepness, weight = 2 * (1 - t) / (kSteepness * kWholeTurns);
            const Wide turn = (asFloat(WideInt::countingFrom(j)) + 0.5f) * (1.0f / kWholeTurns);
            const V3<Wide> h = sampleGgxVisible(view, alphaX, alphaY, Wide(1 - (1 - t) * (1 - t)), turn);
            const V3<Wide> light = h * (2 * dot(view, h)) - view;
            const Wide share = weight * (1 + lambda) / (1 + lambda + smithLambda(light, alphaX, alphaY));
            const Mask above = light.z > 0;
            mirrors += select(above, share, Wide(0));
            dielectrics += select(above, share * fresnelDielectric(dot(view, h), kIndexOfRefraction), Wide(0));
        }
    mirror = dielectric = 0;
    for (int lane = 0; lane < kLanes; ++lane) {
        mirror += mirrors[lane];
        dielectric += dielectrics[lane];
    }
}

// The same of facets that let light through.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void findBoth(float cosine, float roughness, float eta,
                                                                                                  float& both)
{
    const Wide alpha = std::max(kSmallestAlpha, roughness * roughness);
    const V3<Wide> view{std::sqrt(1 - cosine * cosine), 0, cosine};
    const Wide lambda = smithLambda(view, alpha);
    Wide sum;
    for (int i = 0; i < kSteepness; ++i)
        for (int j = 0; j < kTurns; j += kLanes) {
            const float t = (static_cast<float>(i) + 0.5f) / kSteepness, weight = 2 * (1 - t) / (kSteepness * kTurns);
            const Wide turn = 0.25f + (asFloat(WideInt::countingFrom(j)) + 0.5f) * (0.5f / kTurns);
            const V3<Wide> h = sampleGgxVisible(view, alpha, Wide(1 - (1 - t) * (1 - t)), turn);
            const V3<Wide> back = h * (2 * dot(view, h)) - view, through = refracted(view, h, Wide(eta));
            const Wide f = fresnelDielectric(dot(view, h), eta);
            sum += select(back.z > 0, weight * f * (1 + lambda) / (1 + lambda + smithLambda(back, alpha)), Wide(0));
            sum += select((through.z < 0) & (f < 1), weight * (1 - f) / (1 + smithLambda(through, alpha)), Wide(0));
        }
    both = 0;
    for (int lane = 0; lane < kLanes; ++lane)
        both += sum[lane];
}

}  // namespace

EnergyTables::EnergyTables()
{
    base::parallelFor(kRoughnesses, [&](std::size_t r) {
        for (std::size_t c = 0; c < kCosines; ++c)
            findAlbedos(cosineOf(static_cast<int>(c), kCosines), static_cast<float>(r) / (kRoughnesses - 1), kIndexOfRefraction,
                        m_mirror[r][c], m_dielectric[r][c]);
    });
    for (int r = 0; r < kRoughnesses; ++r) {
        const float roughness = static_cast<float>(r) / (kRoughnesses - 1);
        double mirror = 0, dielectric = 0;
        constexpr int kSteps = 256;
        for (int i = 0; i < kSteps; ++i) {
            const float cosine = (i + 0.5f) / kSteps;
            mirror += 2.0 * cosine * lookUp(m_mirror, cosine, roughness) / kSteps;
            dielectric += 2.0 * cosine * lookUp(m_dielectric, cosine, roughness) / kSteps;
        }
        m_mirrorMean[r] = static_cast<float>(mirror);
        m_dielectricMean[r] = static_cast<float>(dielectric);
    }
}

const EnergyTables& energyTables()
{
    static const EnergyTables tables;
    return tables;
}

float LayerTables::cosineAt(int i)
{
    return cosineOf(i, kCosines);
}

LayerTables::LayerTables()
    : m_dielectric(static_cast<std::size_t>(kLevels * kRoughnesses * kCosines)),
      m_dielectricMean(static_cast<std::size_t>(kLevels * kRoughnesses)),
      m_sheen(static_cast<std::size_t>(kRoughnesses * kCosines))
{
    base::parallelFor(static_cast<std::size_t>(kRoughnesses), [&](std::size_t r) {
        const float roughness = static_cast<float>(r) / (kRoughnesses - 1);
        for (int c = 0; c < kCosines; ++c) {
            for (int level = 0; level < kLevels; ++level) {
                const float f = 0.025f * static_cast<float>(level);
                float mirror = 0;
                findAlbedos(cosineAt(c), roughness, (1 + f) / (1 - f), mirror,
                            m_dielectric[(static_cast<std::size_t>(level) * kRoughnesses + r) * kCosines + static_cast<std::size_t>(c)]);
            }
            m_sheen[r * kCosines + static_cast<std::size_t>(c)] = sheenAlbedo(cosineAt(c), roughness);
        }
    });
    for (int level = 0; level < kLevels; ++level)
        for (int r = 0; r < kRoughnesses; ++r) {
            double mean = 0;
            constexpr int kSteps = 128;
            for (int i = 0; i < kSteps; ++i) {
                const float cosine = (static_cast<float>(i) + 0.5f) / kSteps;
                mean += 2.0 * cosine / kSteps *
                        lookUp(m_dielectric.data(), kLevels, static_cast<float>(level), cosine, static_cast<float>(r) / (kRoughnesses - 1));
            }
            m_dielectricMean[static_cast<std::size_t>(level * kRoughnesses + r)] = static_cast<float>(mean);
        }
}

const LayerTables& layerTables()
{
    static const LayerTables tables;
    return tables;
}

AnisotropyTables::AnisotropyTables()
    : m_mirror(static_cast<std::size_t>(kCosines * kTurns * kRoughnesses * kStrengths)),
      m_dielectric(m_mirror.size()),
      m_mirrorMean(static_cast<std::size_t>(kRoughnesses * kStrengths)),
      m_dielectricMean(m_mirrorMean.size())
{
    base::parallelFor(m_mirrorMean.size(), [&](std::size_t at) {
        const float roughness = static_cast<float>(at % kRoughnesses) / (kRoughnesses - 1),
                    strength = static_cast<float>(at / kRoughnesses) / (kStrengths - 1);
        for (int t = 0; t < kTurns; ++t)
            for (int c = 0; c < kCosines; ++c) {
                const std::size_t place = (at * kTurns + static_cast<std::size_t>(t)) * kCosines + static_cast<std::size_t>(c);
                findTurnedAlbedos(cosineOf(c, kCosines), static_cast<float>(t) / (kTurns - 1), roughness, strength, m_mirror[place],
                                  m_dielectric[place]);
            }
    });
    base::parallelFor(m_mirrorMean.size(), [&](std::size_t at) {
        const float roughness = static_cast<float>(at % kRoughnesses) / (kRoughnesses - 1),
                    strength = static_cast<float>(at / kRoughnesses) / (kStrengths - 1);
        double mirror = 0, dielectric = 0;
        constexpr int kSteps = 64, kSides = 16;
        for (int i = 0; i < kSteps; ++i)
            for (int k = 0; k < kSides; ++k) {
                const float z = (static_cast<float>(i) + 0.5f) / kSteps, level = std::sqrt(1 - z * z),
                            phi = (static_cast<float>(k) + 0.5f) / kSides * kPiFloat / 2;
                const Vec3f w{level * std::cos(phi), level * std::sin(phi), z};
                mirror += 2.0 * z * lookUp(m_mirror.data(), w, roughness, strength) / (kSteps * kSides);
                dielectric += 2.0 * z * lookUp(m_dielectric.data(), w, roughness, strength) / (kSteps * kSides);
            }
        m_mirrorMean[at] = static_cast<float>(mirror);
        m_dielectricMean[at] = static_cast<float>(dielectric);
    });
}

const AnisotropyTables& anisotropyTables()
{
    static const AnisotropyTables tables;
    return tables;
}

GlassTables::GlassTables() : m_both(static_cast<std::size_t>(kLevels * kRoughnesses * kCosines))
{
    base::parallelFor(static_cast<std::size_t>(kLevels), [&](std::size_t level) {
        const float f = 0.025f * static_cast<float>(level) - 0.5f;
        for (int r = 0; r < kRoughnesses; ++r)
            for (int c = 0; c < kCosines; ++c)
                findBoth(cosineOf(c, kCosines), static_cast<float>(r) / (kRoughnesses - 1), (1 + f) / (1 - f),
                         m_both[(level * kRoughnesses + static_cast<std::size_t>(r)) * kCosines + static_cast<std::size_t>(c)]);
    });
}

const GlassTables& glassTables()
{
    static const GlassTables tables;
    return tables;
}

}  // namespace surface
