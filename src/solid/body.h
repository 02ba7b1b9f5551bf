// A body: a closed triangle mesh that knows its parts.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <vector>

#include "base/result.h"
#include "base/vec.h"

namespace solid {

using base::Vec2;
using base::Vec3;
using base::Vec3f;

// The inlay is a face sunk or raised inside the face, the rim what leads to it; risers are the upright walls of terraces.
enum class Part : std::uint8_t { Face, FrontBevel, Side, BackBevel, Back, Inlay, Rim, Riser, Tube };
inline constexpr int kPartCount = 9;

struct Corner {
    Vec3f normal;        // unit, outward, of the ideal surface
    float u = 0, v = 0;  // pt: on face and back the place itself; elsewhere along the outline and along the profile

    bool operator==(const Corner&) const = default;
};

// Positions are pt, relative to the outline's origin; z runs from 0 (back) to the depth (front).
struct Body {
    std::vector<Vec3f> positions;
    std::vector<std::array<std::uint32_t, 3>> triangles;  // counter-clockwise from outside
    std::vector<std::array<Corner, 3>> corners;           // one for each triangle's corner
    std::vector<Part> parts;                              // one for each triangle
    std::vector<std::uint16_t> letters;                   // one for each triangle: index into the outline's letters
    base::Notes notes;                                    // "round-corners": mitring would have folded; "cut-through": by flutes
};
using SharedBody = std::shared_ptr<const Body>;

}  // namespace solid
