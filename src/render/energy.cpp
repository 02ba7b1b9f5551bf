#include "render/energy.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

#include "render/surface.h"

namespace render {

namespace {

constexpr int kSteepness = 48, kTurns = 16;  // points of the quadrature

// Cosines are stored by their square root: the albedo changes fastest at grazing angles.
float cosineOf(int i, int count)
{
    const float t = std::max(0.02f, static_cast<float>(i) / static_cast<float>(count - 1));
    return t * t;
}

}  // namespace

EnergyTables::EnergyTables()
{
    base::parallelFor(kRoughnesses, [&](std::size_t r) {
        const float roughness = static_cast<float>(r) / (kRoughnesses - 1);
        const float alpha = std::max(kSmallestAlpha, roughness * roughness);
        for (int c = 0; c < kCosines; ++c) {
            const float cosine = cosineOf(c, kCosines);
            const Vec3f view{std::sqrt(1 - cosine * cosine), 0, cosine};
            double mirror = 0, dielectric = 0;
            for (int i = 0; i < kSteepness; ++i)
                for (int j = 0; j < kTurns; ++j) {
                    // Steep facets, u near 1, decide what is lost: points crowd there. Left and right are alike: half a turn.
                    const float t = (i + 0.5f) / kSteepness, weight = 2 * (1 - t) / (kSteepness * kTurns);
                    const Vec3f h = sampleGgxVisible(view, alpha, 1 - (1 - t) * (1 - t), 0.25f + 0.5f * (j + 0.5f) / kTurns);
                    const Vec3f light = h * (2 * dot(view, h)) - view;
                    if (light.z <= 0)
                        continue;
                    const auto lambda = [&](Vec3f w) {
                        return (std::sqrt(1 + alpha * alpha * (1 - w.z * w.z) / (w.z * w.z)) - 1) / 2;
                    };
                    const double share = (1 + lambda(view)) / (1 + lambda(view) + lambda(light));
                    mirror += weight * share;
                    dielectric += weight * share * fresnelDielectric(dot(view, h), kIndexOfRefraction);
                }
            m_mirror[r][c] = static_cast<float>(mirror);
            m_dielectric[r][c] = static_cast<float>(dielectric);
        }
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

}  // namespace render
