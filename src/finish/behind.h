// What is behind everything: seen where nothing is hit.
#pragma once

#include "light/panorama.h"
#include "render/scene.h"

namespace finish {

using base::Rgb;

struct Behind {
    enum class Kind {
        Colour,    // DevelopSettings::backdrop
        Gradient,  // as typed, from the bottom of the frame to its top, even to the eye (in Oklab)
        Light,     // the surroundings, mixed and exposed as their light is
    };
    Kind kind = Kind::Colour;
    Rgb bottom, top;
    light::SharedPanorama surroundings;  // nothing: 1 from everywhere
    render::Camera camera;               // a parallel one sees surroundings as one of 50 mm would

    bool operator==(const Behind&) const = default;
    // At (u, v) in [0, 1]^2 of the frame, from its upper left corner: of a gradient the colour, of light what is seen before desk and
    // exposure. Of light some 100 ns.
    Rgb at(double u, double v) const;
};

}  // namespace finish
