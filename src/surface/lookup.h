// Materials looked up where something is hit.
#pragma once

#include <vector>

#include "base/lanes.h"
#include "surface/material.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

// Where on a surface: pt along its outline and its profile (solid::Corner), and in the world.
struct Place {
    float u = 0, v = 0;
    Vec3f point;
};

// What a path travels in: outside of everything, or in the body of a material by its id.
inline constexpr int kOutside = -1;

// The materials with these ids, each as it is at placeAt(lane), which is asked for by materials that are not the same everywhere; so far
// all are.
template <class PlaceAt>
[[gnu::always_inline]] inline MaterialOf<Wide> materialsAt(const std::vector<Material>& materials, const WideInt& ids, const PlaceAt&)
{
    MaterialOf<Wide> all;
    for (int lane = 0; lane < kLanes; ++lane) {
        const Material& m = materials[static_cast<std::size_t>(ids[lane])];
        setLane(all.baseColour, lane, m.baseColour);
        all.metallic.v[lane] = m.metallic;
        all.roughness.v[lane] = m.roughness;
        all.specular.v[lane] = m.specular;
    }
    return all;
}

// One that gives off light.
inline Rgb emissionAt(const std::vector<Material>& materials, int id)
{
    return emissionOf(materials[static_cast<std::size_t>(id)]);
}

}  // namespace surface
