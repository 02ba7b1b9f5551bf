// From a place on the frame to a ray.
#pragma once

#include "render/scene.h"

namespace render {

struct Ray {
    Vec3f origin, direction;  // direction is unit
};

// (u, v) in [0, 1]^2, from the frame's upper left corner.
Ray cameraRay(const Camera& camera, double u, double v);

// Where a world point appears on the frame, in the same (u, v); false behind the viewer.
bool project(const Camera& camera, Vec3 point, base::Vec2& uv);

}  // namespace render
