// Tables of how much light a GGX layer sends back in all, by quadrature over its own sampling.
#pragma once

#include <array>

#include "base/lanes.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

class EnergyTables {
public:
    EnergyTables();

    // Albedo towards a direction with that cosine, 0 to 1: of a perfect mirror's facets (what is missing bounced between
    // facets), and of a dielectric of index 1.5. Roughness 0 to 1.
    template <class F>
    F mirror(F cosine, F roughness) const
    {
        return lookUp(m_mirror, cosine, roughness);
    }
    template <class F>
    F dielectric(F cosine, F roughness) const
    {
        return lookUp(m_dielectric, cosine, roughness);
    }
    // The dielectric's albedo averaged over directions, weighted by the cosine.
    template <class F>
    F dielectricMean(F roughness) const
    {
        const F y = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1);
        const auto j = whole(min(y, F(kRoughnesses - 2)));
        const F low = taken(m_dielectricMean.data(), j);
        return low + (taken(m_dielectricMean.data(), j + 1) - low) * (y - asFloat(j));
    }

private:
    static constexpr int kCosines = 96, kRoughnesses = 65;
    using Table = std::array<std::array<float, kCosines>, kRoughnesses>;
    template <class F>
    static F lookUp(const Table& table, F cosine, F roughness)  // cosines stand by their square root
    {
        const F x = root(clamped(cosine, F(0), F(1))) * (kCosines - 1), y = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1);
        const auto i = whole(min(x, F(kCosines - 2))), j = whole(min(y, F(kRoughnesses - 2)));
        const F fx = x - asFloat(i), fy = y - asFloat(j);
        const float* from = table[0].data();
        const auto row = [&](auto at) {
            const F low = taken(from, at);
            return low + (taken(from, at + 1) - low) * fx;
        };
        const auto at = j * kCosines + i;
        const F low = row(at);
        return low + (row(at + kCosines) - low) * fy;
    }

    Table m_mirror{}, m_dielectric{};
    std::array<float, kRoughnesses> m_dielectricMean{};
};

// Made on first use, some 20 ms on all threads; the same on every run. Call it before tasks that use it are started.
const EnergyTables& energyTables();

}  // namespace surface
