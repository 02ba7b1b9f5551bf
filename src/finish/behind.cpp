#include "finish/behind.h"

#include <algorithm>

#include "picture/oklab.h"
#include "render/camera.h"

namespace finish {

Rgb Behind::at(double u, double v, double pixel) const
{
    if (kind == Kind::Picture) {
        // Of a picture that is wider than the frame a part of its width is seen, else of its height.
        const double wider = camera.frameWidth * picture->aspect() / camera.frameHeight, across = std::min(1.0, wider),
                     up = std::min(1.0, 1 / wider);
        const surface::Rgba seen = picture->colourAt(static_cast<float>(0.5 + (u - 0.5) * across), static_cast<float>(0.5 + (0.5 - v) * up),
                                                     static_cast<float>(pixel * across * picture->width()), surface::PictureEdges::Mirror);
        return seen.colour + bottom * (1 - seen.alpha);
    }
    return picture::mixedInOklab(bottom, top, static_cast<float>(1 - v));
}

Rgb Behind::lightAt(double u, double v, std::span<const Rgb> desk) const
{
    if (!surroundings)
        return desk.front();
    render::Camera seen = camera;
    if (!seen.perspective) {
        seen.perspective = true;
        seen.frameDistance = seen.frameWidth * 50 / 36;
    }
    const auto direction = render::cameraRay(seen, u, v).direction;
    Rgb light = surroundings->at(direction) * desk.front();
    for (std::size_t card = 0; card < ownCards.size() && card + 1 < desk.size(); ++card)
        light += ownCards[card]->at(direction) * desk[card + 1];
    return light;
}

}  // namespace finish
