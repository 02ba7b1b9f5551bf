// Bodies as lines, whatever stands before them.
#pragma once

#include <array>
#include <vector>

#include "render/scene.h"
#include "session/choice.h"
#include "work/bodies.h"

namespace session {

// The lines of one letter of one body, in frame coordinates (see render::project), pieces front to back.
struct BodyLines {
    Target target;
    std::vector<std::array<base::Vec2, 2>> lines;
};

// Edges where a body turns away from the viewer, and those that are sharper than `kCrease`. What is behind the viewer is left out.
// O(triangles), some 0.1 s a million.
inline constexpr double kCrease = 35;  // degrees
std::vector<BodyLines> linesOf(const work::WorkBodies& bodies, const render::Camera& camera);

}  // namespace session
