// Tables of how much light a GGX layer sends back in all, by quadrature over its own sampling, and a sheen.
#pragma once

#include <array>
#include <vector>

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
    // Averaged over directions, weighted by the cosine.
    template <class F>
    F mirrorMean(F roughness) const
    {
        return lookUpMean(m_mirrorMean, roughness);
    }
    template <class F>
    F dielectricMean(F roughness) const
    {
        return lookUpMean(m_dielectricMean, roughness);
    }

private:
    static constexpr int kCosines = 96, kRoughnesses = 65;
    using Table = std::array<std::array<float, kCosines>, kRoughnesses>;
    using Means = std::array<float, kRoughnesses>;
    template <class F>
    static F lookUpMean(const Means& means, F roughness)
    {
        const F y = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1);
        const auto j = whole(min(y, F(kRoughnesses - 2)));
        const F low = taken(means.data(), j);
        return low + (taken(means.data(), j + 1) - low) * (y - asFloat(j));
    }
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
    Means m_mirrorMean{}, m_dielectricMean{};
};

// Made on first use, some 20 ms on all threads; the same on every run. Call it before tasks that use it are started.
const EnergyTables& energyTables();

// The same of what layers need: dielectrics of index 1 to 3, and sheens.
class LayerTables {
public:
    LayerTables();

    // As EnergyTables::dielectric(), within 1e-3 between the indices that stand in the table.
    template <class F>
    F dielectric(F cosine, F roughness, F ior) const
    {
        return lookUp(m_dielectric.data(), kLevels, (ior - 1) / (ior + 1) * (2 * (kLevels - 1)), cosine, roughness);
    }
    template <class F>
    F dielectricMean(F roughness, F ior) const
    {
        return lookUp(m_dielectricMean.data(), kLevels, (ior - 1) / (ior + 1) * (2 * (kLevels - 1)), F(1), roughness, 1);
    }
    // Of a white sheen, roughness 0 to 1; may be over 1 at grazing angles.
    template <class F>
    F sheen(F cosine, F roughness) const
    {
        return lookUp(m_sheen.data(), 1, F(0), cosine, roughness);
    }

private:
    static constexpr int kCosines = 48, kRoughnesses = 25, kLevels = 21;  // levels: (n - 1) / (n + 1) in steps of 0.025
    static float cosineAt(int i);
    // Cosines stand by their square root.
    template <class F>
    static F lookUp(const float* from, int levels, F level, F cosine, F roughness, int cosines = kCosines)
    {
        const F x = root(clamped(cosine, F(0), F(1))) * float(cosines - 1), y = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1),
                z = clamped(level, F(0), F(float(levels - 1)));
        const auto i = whole(min(x, F(float(cosines > 1 ? cosines - 2 : 0)))), j = whole(min(y, F(kRoughnesses - 2))),
                   k = whole(min(z, F(float(levels > 1 ? levels - 2 : 0))));
        const F below = asFloat(k);
        // Albedos go with what is reflected head on, the square of the level.
        const F fx = x - asFloat(i), fy = y - asFloat(j), fz = (z * z - below * below) / (2 * below + 1);
        const int overX = cosines > 1 ? 1 : 0, overZ = levels > 1 ? cosines * kRoughnesses : 0;
        const auto at = (k * kRoughnesses + j) * cosines + i;
        const auto row = [&](auto index) {
            const F low = taken(from, index);
            return low + (taken(from, index + overX) - low) * fx;
        };
        const auto plane = [&](auto index) {
            const F low = row(index);
            return low + (row(index + cosines) - low) * fy;
        };
        const F low = plane(at);
        return low + (plane(at + overZ) - low) * fz;
    }

    std::vector<float> m_dielectric, m_dielectricMean, m_sheen;
};

// Made on first use, some 100 ms; as energyTables().
const LayerTables& layerTables();

// Of facets that are rougher along x, as KHR_materials_anisotropy has it: `strength` 0 to 1 takes alpha along x towards 1 by its square.
class AnisotropyTables {
public:
    AnisotropyTables();

    // As EnergyTables's, towards a unit direction.
    template <class F>
    F mirror(V3<F> w, F roughness, F strength) const
    {
        return lookUp(m_mirror.data(), w, roughness, strength);
    }
    template <class F>
    F dielectric(V3<F> w, F roughness, F strength) const
    {
        return lookUp(m_dielectric.data(), w, roughness, strength);
    }
    template <class F>
    F mirrorMean(F roughness, F strength) const
    {
        return lookUpMean(m_mirrorMean.data(), roughness, strength);
    }
    template <class F>
    F dielectricMean(F roughness, F strength) const
    {
        return lookUpMean(m_dielectricMean.data(), roughness, strength);
    }

private:
    static constexpr int kCosines = 32, kTurns = 5, kRoughnesses = 17, kStrengths = 9;
    template <class F>
    static F lookUpMean(const float* from, F roughness, F strength)
    {
        const F x = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1), y = clamped(strength, F(0), F(1)) * (kStrengths - 1);
        const auto i = whole(min(x, F(kRoughnesses - 2))), j = whole(min(y, F(kStrengths - 2)));
        const auto row = [&](auto at) {
            const F low = taken(from, at);
            return low + (taken(from, at + 1) - low) * (x - asFloat(i));
        };
        const auto at = j * kRoughnesses + i;
        const F low = row(at);
        return low + (row(at + kRoughnesses) - low) * (y - asFloat(j));
    }
    // Cosines stand by their square root; turns by how much of what is level is along x.
    template <class F>
    [[gnu::always_inline]] static F lookUp(const float* from, V3<F> w, F roughness, F strength)
    {
        const F level = w.x * w.x + w.y * w.y, along = w.x * w.x / max(F(1e-12f), level);
        const F x = root(clamped(w.z, F(0), F(1))) * (kCosines - 1), t = clamped(along, F(0), F(1)) * (kTurns - 1),
                y = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1), s = clamped(strength, F(0), F(1)) * (kStrengths - 1);
        const auto i = whole(min(x, F(kCosines - 2))), k = whole(min(t, F(kTurns - 2))), j = whole(min(y, F(kRoughnesses - 2))),
                   l = whole(min(s, F(kStrengths - 2)));
        const F fx = x - asFloat(i), ft = t - asFloat(k), fy = y - asFloat(j), fs = s - asFloat(l);
        const auto at = ((l * kRoughnesses + j) * kTurns + k) * kCosines + i;
        F sum = 0;
        for (int corner = 0; corner < 16; ++corner) {
            const bool inX = corner & 1, inT = corner & 2, inY = corner & 4, inS = corner & 8;
            const int step = (((inS ? kRoughnesses : 0) + (inY ? 1 : 0)) * kTurns + (inT ? 1 : 0)) * kCosines + (inX ? 1 : 0);
            sum += taken(from, at + step) * ((inX ? fx : 1 - fx) * (inT ? ft : 1 - ft) * ((inY ? fy : 1 - fy) * (inS ? fs : 1 - fs)));
        }
        return sum;
    }

    std::vector<float> m_mirror, m_dielectric, m_mirrorMean, m_dielectricMean;
};

// Made on first use, some 200 ms; as energyTables().
const AnisotropyTables& anisotropyTables();

// Of facets that reflect and refract.
class GlassTables {
public:
    GlassTables();

    // Share of light that one meeting with a facet sends back or lets through; what is missing goes from facet to facet. `eta`: the index
    // of refraction beyond over that before, 1/3 to 3.
    template <class F>
    F both(F cosine, F roughness, F eta) const
    {
        const F z = clamped(((eta - 1) / (eta + 1) + 0.5f) * (kLevels - 1), F(0), F(kLevels - 1));
        const auto k = whole(min(z, F(kLevels - 2)));
        const F low = lookUp(k, cosine, roughness);
        return low + (lookUp(k + 1, cosine, roughness) - low) * (z - asFloat(k));
    }

private:
    static constexpr int kCosines = 48, kRoughnesses = 25, kLevels = 41;  // levels: (eta - 1) / (eta + 1) in steps of 0.025
    template <class F, class I>
    F lookUp(I level, F cosine, F roughness) const
    {
        const F x = root(clamped(cosine, F(0), F(1))) * (kCosines - 1), y = clamped(roughness, F(0), F(1)) * (kRoughnesses - 1);
        const auto i = whole(min(x, F(kCosines - 2))), j = whole(min(y, F(kRoughnesses - 2)));
        const F fx = x - asFloat(i), fy = y - asFloat(j);
        const auto row = [&](auto at) {
            const F low = taken(m_both.data(), at);
            return low + (taken(m_both.data(), at + 1) - low) * fx;
        };
        const auto at = (level * kRoughnesses + j) * kCosines + i;
        const F low = row(at);
        return low + (row(at + kCosines) - low) * fy;
    }

    std::vector<float> m_both;
};

// Made on first use, some 200 ms; as energyTables().
const GlassTables& glassTables();

}  // namespace surface
