// From a place on the frame to a ray.
#pragma once

#include "base/lanes.h"
#include "render/scene.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it

struct Ray {
    Vec3f origin, direction;  // direction is unit
};

// (u, v) in [0, 1]^2, from the frame's upper left corner.
Ray cameraRay(const Camera& camera, double u, double v);

// The same for places in px of a picture that fills the frame, from its upper left corner. To a thousandth of a pixel in float.
[[gnu::always_inline]] inline void cameraRays(const Camera& c, int width, int height, const Wide& x, const Wide& y, V3<Wide>& origins,
                                              V3<Wide>& directions)
{
    const Wide u = (x - 0.5f * static_cast<float>(width)) * static_cast<float>(c.frameWidth / width);
    const Wide v = (0.5f * static_cast<float>(height) - y) * static_cast<float>(c.frameHeight / height);
    const V3<Wide> offset = spread<Wide>(toFloat(c.right)) * u + spread<Wide>(toFloat(c.up)) * v;
    origins = spread<Wide>(toFloat(c.eye));
    directions = spread<Wide>(toFloat(c.forward));
    if (c.perspective)
        directions = normalized(offset + directions * static_cast<float>(c.frameDistance));
    else
        origins += offset;
}

// Where a world point appears on the frame, in the same (u, v); false behind the viewer.
bool project(const Camera& camera, Vec3 point, base::Vec2& uv);

}  // namespace render
