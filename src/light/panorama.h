// A picture of all round: even in longitude and latitude, from straight up at its top; its middle is the viewer's side, 90 degrees to the
// right three quarters across. Directions are those of light/surroundings.h.
#pragma once

#include <memory>
#include <vector>

#include "base/vec.h"

namespace light {

using base::Rgb;
using base::Vec3f;

struct Panorama {
    int width = 0, height = 0;
    std::vector<Rgb> pixels;  // light, by rows

    Panorama() = default;
    Panorama(int w, int h) : width(w), height(h), pixels(static_cast<std::size_t>(w) * static_cast<std::size_t>(h)) {}

    const Rgb& pixel(int x, int y) const
    {
        return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
    }
    Rgb& pixel(int x, int y) { return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)]; }
    // Of its middle, in px from its upper left corner.
    Vec3f directionAt(double x, double y) const;
    // Of a pixel of that row, in steradians.
    double solidAngleOf(int row) const;
    // Of a direction, in px from the middle of the first pixel.
    base::Vec2 placeOf(Vec3f direction) const;
    // Between the four pixels round a place; left and right join.
    Rgb at(base::Vec2 place) const;
    Rgb at(Vec3f direction) const { return at(placeOf(direction)); }

    bool operator==(const Panorama&) const = default;
};
using SharedPanorama = std::shared_ptr<const Panorama>;

// Every direction as the mean over a cap of this radius (radians, at most 90 degrees) round it, which counts less towards its edge, as
// (1 - r^2)^2. Smaller than the picture, as its softness allows. Some 0.1 s.
Panorama blurred(const Panorama& sharp, double radius);

}  // namespace light
