// A profile drawn by hand: a curve across the unit square.
//
// It is kept as SVG path data (W3C, SVG 1.1, 8.3) of absolute M, L and C alone: "M0 0 L0.5 0 C0.8 0 1 0.4 1 1". For a bevel x goes from
// the outline (0) to the inner edge (1) and y from the foot (0) to the face (1); for flutes x goes along the depth, y into the body.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "base/vec.h"
#include "solid/form.h"

namespace solid {

using base::Vec2;

struct ProfileNode {
    Vec2 p;
    Vec2 before, after;  // its handles, seen from it; (0, 0): the line there is straight

    bool operator==(const ProfileNode&) const = default;
};

inline constexpr std::size_t kMostProfileNodes = 64;
// A half round, for flutes that nothing was drawn for.
inline constexpr const char* kHalfRound = "M0 0 C0 0.5523 0.2239 1 0.5 1 C0.7761 1 1 0.5523 1 0";
// A bead over a step, for a bevel that nothing was drawn for.
inline constexpr const char* kBead = "M0 0 L0 0.25 L0.2 0.25 C0.2 0.66 0.4 1 0.7 1 L1 1";

// Errors: BadInput, which says what is wrong and at which character.
base::Result<std::vector<ProfileNode>> readProfile(std::string_view path);
std::string writeProfile(const std::vector<ProfileNode>& nodes);
// What is drawn the same as one of the other profiles, to go on from; `steps` counts terraces.
std::string asDrawn(Profile profile, int steps);
// Brings nodes and handles into the square, and x in order: from 0 to 1 and never back.
void tidy(std::vector<ProfileNode>& nodes);

// A place on the curve with the curve's unit directions before and after it; both agree where it is smooth.
struct ProfilePlace {
    Vec2 p, before, after;
};
// Curves become `steps` chords each; with 0 as many as keep within `tolerance` where the square is `size`.
std::vector<ProfilePlace> flattened(const std::vector<ProfileNode>& nodes, int steps, double tolerance, Vec2 size);

}  // namespace solid
