// Patterns that a material has by formulas: stone, wood, cloth, dots. They live in the body, in pt, so that they are as large as they are
// said to be, and what is solid (stone, brick, wood) goes from the face round the edge into the side. Everything comes from a seed.
//
// Noise: K. Perlin, Improving noise, 2002 (gradients from a hash instead of a table). Cells: S. Worley, A cellular texture basis function,
// 1996. What is finer than the footprint fades to its mean; edges of stripes, checks and courses are box filtered.
#pragma once

#include <cstdint>

#include "base/vec.h"

namespace surface {

using base::Rgb;
using base::Vec3f;
using Vec2f = base::V2<float>;

enum class PatternKind : std::uint8_t {
    None,
    // Solid: by the place in the body.
    Granite,
    Marble,
    Sandstone,
    Concrete,
    Terrazzo,
    Brick,
    Wood,
    Plywood,
    Card,
    Rust,
    Hammered,
    Leather,
    Cracked,
    Crinkled,
    Chalk,
    Sand,
    Frost,
    Glitter,
    Felt,
    Paper,
    // Sheets: along the outline and the profile.
    Brushed,
    Woven,
    Knit,
    Dots,
    Stripes,
    Checks,
};
inline constexpr int kPatternKinds = static_cast<int>(PatternKind::Checks) + 1;

struct Pattern {
    PatternKind kind = PatternKind::None;
    float sizePt = 20;   // of a grain, a brick's length, a ring of wood, a thread, a dot's distance
    float strength = 1;  // 0 to 1: how much of the second colour, of stains and of what changes the gloss
    float relief = 1;    // 0: flat; 1: as deep as such things are; up to 4
    Vec2f turn{1, 0};    // cosine and sine, counter-clockwise, about the body's z or in the sheet
    int seed = 0;
    Rgb second{0.2f, 0.2f, 0.2f};  // linear: of veins, mortar, late wood, weft, dots
    bool operator==(const Pattern&) const = default;
};

// A place in its body.
struct PatternPlace {
    Vec3f point;          // pt
    Vec3f normal;         // unit
    float u = 0, v = 0;   // as Place
    float footprint = 0;  // pt: what is smaller is not resolved
};

// What is there; goes in as the material has it.
struct Look {
    Rgb colour;
    float roughness = 0, metallic = 0;
    float height = 0;  // pt, of relief 1
    Vec3f tilt;        // added to the normal: flakes
};

// Some 50 to 300 ns.
Look patterned(const Pattern& pattern, const Look& base, const PatternPlace& place);

// The normal of the relief: `along` are unit tangents, du and dv what u and v change by along them. Two or three times as long.
Vec3f relievedNormal(const Pattern& pattern, const Look& base, const PatternPlace& place, const Vec3f (&along)[2], const float (&du)[2],
                     const float (&dv)[2], const Look& here);

}  // namespace surface
