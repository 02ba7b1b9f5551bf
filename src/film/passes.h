// A film as named passes.
#pragma once

#include "film/shares.h"

namespace film {

// For the region of the shares, which have ids: "light.<entry>", "alpha", "albedo", "normal", "depth", "ids" (piece, letter, part of what
// is seen most), "coverage1" and on (the same of each thing that is seen, and its share), "shadow" (the share of the lamps that is hidden
// from what is there), "samples". Colours are means, premultiplied, and those of the lights come from `shares`; depth is the mean of what
// was hit.
picture::Passes passesFrom(const Film& film, const LightShares& shares);

}  // namespace film
