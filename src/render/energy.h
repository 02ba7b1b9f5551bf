// Tables of how much light a GGX layer sends back in all, by quadrature over its own sampling.
#pragma once

#include <array>

namespace render {

class EnergyTables {
public:
    EnergyTables();

    // Albedo towards a direction with that cosine, 0 to 1: of a perfect mirror's facets (what is missing bounced between
    // facets), and of a dielectric of index 1.5. Roughness 0 to 1.
    float mirror(float cosine, float roughness) const { return lookUp(m_mirror, cosine, roughness); }
    float dielectric(float cosine, float roughness) const { return lookUp(m_dielectric, cosine, roughness); }
    // The dielectric's albedo averaged over directions, weighted by the cosine.
    float dielectricMean(float roughness) const;

private:
    static constexpr int kCosines = 96, kRoughnesses = 65;
    using Table = std::array<std::array<float, kCosines>, kRoughnesses>;
    static float lookUp(const Table& table, float cosine, float roughness);

    Table m_mirror{}, m_dielectric{};
    std::array<float, kRoughnesses> m_dielectricMean{};
};

// Made on first use, some 100 ms on all threads; the same on every run. Call it before tasks that use it are started.
const EnergyTables& energyTables();

}  // namespace render
