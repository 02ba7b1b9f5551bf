// From where light comes that mirrors and glass throw on what is round them, as something to choose directions by.
//
// A wall beside gold letters gets much of its light from the few directions in which a lamp is seen in them; one direction in a hundred
// is one of them, and what it brings makes clouds. Photons that lamps send by way of the letters tell where they are (H. W. Jensen,
// Importance driven path tracing using the photon map, 1995). Here they are counted by place and direction; they choose some of the
// directions, the surface itself the others, and both count by the density of the mixture, so that nothing is lost or added.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "base/lanes.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it

class ThrownLight {
public:
    // Light that has arrived.
    struct Photon {
        Vec3f point;
        Vec3f normal, from;  // unit, from the surface: its normal, and where light comes from
        float power = 0;     // flux; pi for each pt2 is a white card in full light
    };

    // Nothing is known yet.
    ThrownLight() = default;
    // Photons are counted in cells of this width, pt. O(n log n); a cell takes 2 KB.
    ThrownLight(std::span<const Photon> photons, float cell);

    bool empty() const { return m_cells.empty(); }

    struct Places {
        WideInt cell = -1;
        Wide share;  // how many of the diffuse directions should be chosen by the cell: 0 to kMostShare
    };
    // What is known of places, those of `where`, with these unit normals. `u` and `v`, in [0, 1), move them about within a cell, so that
    // its borders are not seen.
    Places at(const V3<Wide>& points, const V3<Wide>& normals, const Wide& u, const Wide& v, const Mask& where) const;
    // Unit directions for those of `where`, which have a cell; `u` and `v` in [0, 1).
    V3<Wide> directions(const WideInt& cells, const Wide& u, const Wide& v, const Mask& where) const;
    // How densely directions() would choose each of these, per steradian; 0 without a cell.
    void densities(const WideInt& cells, const V3<Wide>& directions, Wide& densities) const;

    static constexpr float kMostShare = 0.6f;

private:
    struct Cell {
        int axis = 0;  // 0 to 5: x, y, z, and against them
        float share = 0;
    };
    struct Slot {
        std::uint64_t key = 0;
        int cell = -1;
    };
    std::uint64_t keyOf(Vec3f point, int axis, float u, float v) const;
    std::size_t slotOf(std::uint64_t key) const;  // the one with the key, or the free one where it belongs

    float m_perCell = 1;
    std::vector<Slot> m_slots = std::vector<Slot>(1);  // a power of two of them, at most half of them taken
    std::vector<Cell> m_cells;
    std::vector<float> m_upTo;  // of each bin of each cell: the share of it and those before it
};

}  // namespace render
