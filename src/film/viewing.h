// A film's light as it will be seen.
#pragma once

#include <functional>
#include <vector>

#include "base/vec.h"

namespace film {

using base::Rgb;

// Factors of the entries, exposure within, and the way from mixed light and coverage (premultiplied, linear) to encoded colour, 0 to 1.
struct Viewing {
    std::vector<Rgb> desk;
    std::function<Rgb(Rgb light, float alpha)> shown;
};

}  // namespace film
