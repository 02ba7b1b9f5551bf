#include "render/camera.h"

namespace render {

Ray cameraRay(const Camera& c, double u, double v)
{
    const Vec3 offset = c.right * ((u - 0.5) * c.frameWidth) + c.up * ((0.5 - v) * c.frameHeight);
    if (!c.perspective)
        return {toFloat(c.eye + offset), toFloat(c.forward)};
    return {toFloat(c.eye), toFloat(normalized(offset + c.forward * c.frameDistance))};
}

bool project(const Camera& c, Vec3 point, base::Vec2& uv)
{
    const Vec3 d = point - c.eye;
    double scale = 1;
    if (c.perspective) {
        const double depth = dot(d, c.forward);
        if (depth <= 0)
            return false;
        scale = c.frameDistance / depth;
    }
    uv = {0.5 + dot(d, c.right) * scale / c.frameWidth, 0.5 - dot(d, c.up) * scale / c.frameHeight};
    return true;
}

}  // namespace render
