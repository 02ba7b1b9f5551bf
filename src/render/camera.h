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

// Makes rays of cameraRays() go through the lens at (u, v) in [0, 1]^2, even over its area, so that what lies in the sharp plane stays
// where it is (a thin lens: R. Cook, T. Porter, L. Carpenter, Distributed ray tracing, 1984). Of a camera with a lens.
[[gnu::always_inline]] inline void throughLens(const Camera& c, const Wide& u, const Wide& v, V3<Wide>& origins, V3<Wide>& directions)
{
    Wide x, y;
    if (c.blades < 3) {
        const SinCos<Wide> turn = sinCosOf(v);
        const Wide r = root(u);
        x = r * turn.cosine;
        y = r * turn.sine;
    } else {
        // A triangle from the middle to two neighbouring corners.
        const Wide at = u * static_cast<float>(c.blades), corner = asFloat(whole(at)), r = root(at - corner);
        const SinCos<Wide> one = sinCosOf(corner * (1.0f / static_cast<float>(c.blades))),
                           next = sinCosOf((corner + 1) * (1.0f / static_cast<float>(c.blades)));
        x = r * (one.sine + (next.sine - one.sine) * v);
        y = r * (one.cosine + (next.cosine - one.cosine) * v);
    }
    const auto radius = static_cast<float>(c.lensRadius);
    const V3<Wide> forward = spread<Wide>(toFloat(c.forward)),
                   off = spread<Wide>(toFloat(c.right)) * (x * radius) + spread<Wide>(toFloat(c.up)) * (y * radius);
    directions = normalized(directions * (static_cast<float>(c.sharpDistance) / dot(directions, forward)) - off);
    origins += off;
}

// Where a world point appears on the frame, in the same (u, v); false behind the viewer.
bool project(const Camera& camera, Vec3 point, base::Vec2& uv);

}  // namespace render
