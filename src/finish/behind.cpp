#include "finish/behind.h"

#include "picture/oklab.h"
#include "render/camera.h"

namespace finish {

Rgb Behind::at(double u, double v) const
{
    if (kind == Kind::Gradient)
        return picture::mixedInOklab(bottom, top, static_cast<float>(1 - v));
    if (!surroundings)
        return {1, 1, 1};
    render::Camera seen = camera;
    if (!seen.perspective) {
        seen.perspective = true;
        seen.frameDistance = seen.frameWidth * 50 / 36;
    }
    return surroundings->at(render::cameraRay(seen, u, v).direction);
}

}  // namespace finish
