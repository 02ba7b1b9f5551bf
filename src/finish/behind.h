// What is behind everything: seen where nothing is hit.
#pragma once

#include <span>
#include <vector>

#include "light/panorama.h"
#include "render/scene.h"
#include "surface/texture.h"

namespace finish {

using base::Rgb;

struct Behind {
    enum class Kind {
        Colour,    // DevelopSettings::backdrop
        Gradient,  // as typed, from the bottom of the frame to its top, even to the eye (in Oklab)
        Light,     // the surroundings, mixed and exposed as their light is
        Picture,   // as typed: it fills the frame, in its middle; where it lets through, the colour at the bottom shows
    };
    Kind kind = Kind::Colour;
    Rgb bottom, top;
    light::SharedPanorama surroundings;  // nothing: 1 from everywhere
    render::Camera camera;               // a parallel one sees surroundings as one of 50 mm would
    surface::SharedTexture picture;      // its colours are made

    std::vector<light::SharedPanorama> ownCards;  // of the surroundings: each with an entry of its own

    bool operator==(const Behind&) const = default;
    bool isTyped() const { return kind == Kind::Gradient || kind == Kind::Picture; }
    // At (u, v) in [0, 1]^2 of the frame, from its upper left corner, the colour as typed. `pixel` is the share of the frame's width that
    // sees it. Of pictures some 100 ns.
    Rgb at(double u, double v, double pixel = 0) const;
    // The light that is seen there, before exposure. `desk`: factors of the surroundings and of their own cards. Some 100 ns.
    Rgb lightAt(double u, double v, std::span<const Rgb> desk) const;
};

}  // namespace finish
