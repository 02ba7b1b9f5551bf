// Colours by how they look: Oklab in polar form (B. Ottosson, A perceptual color space for image processing, 2020; matrices as in W3C
// CSS Color Module Level 4, section 9). Even steps of lightness, chroma or hue look even.
#pragma once

#include <vector>

#include "base/vec.h"

namespace picture {

using base::Rgb;

struct Oklch {
    float lightness = 0;  // 0 black to 1 white
    float chroma = 0;     // 0 grey; the strongest screen colour has 0.323
    float hue = 0;        // degrees, 0 to 360; 0 for greys
};

Oklch toOklch(Rgb linear);
// Linear sRGB; outside 0 to 1 where no screen colour is.
Rgb fromOklch(const Oklch& colour);
// Whether all channels lie in 0 to 1, but for rounding.
bool isScreenColour(Rgb linear);
// The strongest chroma that a screen has at this lightness and hue, to 1e-4.
float strongestChroma(float lightness, float hue);
// The colour with its chroma cut to what the screen has.
Rgb onScreen(const Oklch& colour);

// Colours of the same lightness and chroma that go with one, round the circle of hues: neighbours (30 degrees to both sides), thirds,
// the opposite and its neighbours.
std::vector<Rgb> harmoniesOf(const Oklch& colour);
// The colour that lies `share` of the way from one to the other on the straight way through Oklab: even to the eye.
Rgb mixedInOklab(Rgb from, Rgb to, float share);
// So many colours between two, in the same way.
std::vector<Rgb> stepsBetween(Rgb from, Rgb to, int count);

}  // namespace picture
