#include "surface/energy.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

#include "surface/surface.h"

namespace surface {

namespace {

constexpr int kSteepness = 48, kTurns = 16;  // points of the quadrature

// Cosines are stored by their square root: the albedo changes fastest at grazing angles.
float cosineOf(int i, int count)
{
    const float t = std::max(0.02f, static_cast<float>(i) / static_cast<float>(count - 1));
    return t * t;
}

// By quadrature over the layer's own sampling.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void findAlbedos(float cosine, float roughness,
                                                                                                     float& mirror, float& dielectric)
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
            dielectrics += select(above, share * fresnelDielectric(dot(view, h), kIndexOfRefraction), Wide(0));
        }
    mirror = dielectric = 0;
    for (int lane = 0; lane < kLanes; ++lane) {
        mirror += mirrors[lane];
        dielectric += dielectrics[lane];
    }
}

}  // namespace

EnergyTables::EnergyTables()
{
    base::parallelFor(kRoughnesses, [&](std::size_t r) {
        for (std::size_t c = 0; c < kCosines; ++c)
            findAlbedos(cosineOf(static_cast<int>(c), kCosines), static_cast<float>(r) / (kRoughnesses - 1), m_mirror[r][c],
                        m_dielectric[r][c]);
    });
    for (int r = 0; r < kRoughnesses; ++r) {
        const float roughness = static_cast<float>(r) / (kRoughnesses - 1);
        double mean = 0;
        constexpr int kSteps = 256;
        for (int i = 0; i < kSteps; ++i) {
            const float cosine = (i + 0.5f) / kSteps;
            mean += 2.0 * cosine * lookUp(m_dielectric, cosine, roughness) / kSteps;
        }
        m_dielectricMean[r] = static_cast<float>(mean);
    }
}

const EnergyTables& energyTables()
{
    static const EnergyTables tables;
    return tables;
}

}  // namespace surface
