// A film as named passes.
#pragma once

#include "film/shares.h"

namespace film {

// For the region it holds: "light.<entry>", "alpha", "albedo", "normal", "depth", "ids" (piece, letter, part), "samples". Colours are
// means, premultiplied, and those of the lights come from `shares`; depth is the mean of what was hit.
picture::Passes passesFrom(const Film& film, const LightShares& shares);

}  // namespace film
