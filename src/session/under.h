// What lies under a place of the picture, one behind the other.
#pragma once

#include <vector>

#include "render/scene.h"
#include "session/choice.h"
#include "work/bodies.h"

namespace session {

// Letters (with their pieces) whose bodies a ray through `place` (frame coordinates) meets, from front to back, each once; linked copies
// count as their piece. Two-sided triangle test of Moeller and Trumbore (Fast, Minimum Storage Ray/Triangle Intersection, 1997).
// O(triangles).
std::vector<Target> under(const work::WorkBodies& bodies, const render::Camera& camera, base::Vec2 place);

}  // namespace session
