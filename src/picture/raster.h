// Pixels in rows from the top, channels interleaved.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace picture {

template <class T>
struct Raster {
    int width = 0, height = 0, channels = 0;
    std::vector<T> values;

    Raster() = default;
    Raster(int w, int h, int c) : width(w), height(h), channels(c), values(static_cast<std::size_t>(w) * h * c) {}
    bool operator==(const Raster&) const = default;

    T* at(int x, int y) { return values.data() + (static_cast<std::size_t>(y) * width + x) * channels; }
    const T* at(int x, int y) const { return values.data() + (static_cast<std::size_t>(y) * width + x) * channels; }
};

// A named picture that a render gives, in linear light; colour passes are premultiplied by coverage.
struct Pass {
    std::string name;                   // "light.key", "albedo", "normal", "depth", "alpha", "ids"
    std::vector<std::string> channels;  // "R", "G", "B" or "X", "Y", "Z" or one
    Raster<float> raster;
};
using Passes = std::vector<Pass>;

}  // namespace picture
