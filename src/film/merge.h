// Films of one exposure that hold different samples, put together.
#pragma once

#include "film/film.h"

namespace film {

// Makes a film in the file `out` of those in `paths`: the same work, size, seed and renderer, and sample ranges that do not overlap. Light,
// coverage and guides of each half are those of one render of all samples, within rounding; first hits of edges are all that the films
// have. The merged film is for the desk; it cannot be exposed further. O(pixels). Errors: BadInput with the film that does not fit,
// CannotRead, CannotWrite, Busy; a file that stands at `out` is refused.
base::Result<void> merge(const std::vector<std::string>& paths, const std::string& out);

}  // namespace film
