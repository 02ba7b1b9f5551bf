// Colours over colours: blending and compositing as W3C Compositing and Blending Level 1 says it, on encoded values.
#pragma once

#include "finish/layers.h"

namespace finish {

// B(cb, cs) of section 10: of what is below, and of what goes over it; 0 to 1. Of plus-lighter their sum, at most 1.
Rgb blended(Blend blend, Rgb below, Rgb over);

struct Covered {
    Rgb colour;  // not premultiplied
    float alpha = 1;

    bool operator==(const Covered&) const = default;
};

// Source-over with blending (section 9.1, formula of section 5.8.1); plus-lighter adds both, with their coverage (section 9.1.14).
Covered composited(Blend blend, const Covered& below, Rgb over, float alpha);

}  // namespace finish
