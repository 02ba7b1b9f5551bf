// Every light's share of every pixel: what is mixed at the desk and developed into a picture. It is taken from a film as gathered, or
// cleaned by noise reduction; from then on it is the same thing.
#pragma once

#include <vector>

#include "film/film.h"
#include "picture/raster.h"

namespace film {

// Where depth is measured from: the plane through the aim, across the view. Lengths are pt, as a camera has them.
struct Viewpoint {
    bool perspective = false;
    double frameWidth = 0, frameHeight = 0, frameDistance = 0;

    // How far behind that plane it is that is seen at (u, v) of the frame after `distance`; negative: before it.
    float behindAim(double u, double v, float distance) const;
};

// What a pixel shows and how much of it, from the most to the least; the shares sum to 1. As many as a film keeps.
struct RankedIds {
    PixelId ids[kIds];
    float shares[kIds] = {};
    float depth = 0;  // pt behind the plane through the aim, the mean of what is there
    float open = 1;   // the share of the lights that nothing hides from there, the mean

    bool operator==(const RankedIds&) const = default;
};

// Means over samples, premultiplied, light in white at brightness 1. One row of `stride()` floats for each pixel of the shape's
// region: coverage, then red, green and blue of each entry.
struct LightShares {
    FilmShape shape;
    std::vector<float> values;
    std::vector<RankedIds> ids;  // of each pixel, where somebody asks for them; else empty

    LightShares() = default;
    explicit LightShares(const FilmShape& shape);  // nothing anywhere
    std::size_t stride() const { return 1 + 3 * shape.entries.size(); }
    // Coordinates in the region.
    float* at(int x, int y)
    {
        return values.data() +
               (static_cast<std::size_t>(y) * static_cast<std::size_t>(shape.regionWidth) + static_cast<std::size_t>(x)) * stride();
    }
    const float* at(int x, int y) const { return const_cast<LightShares*>(this)->at(x, y); }
    const RankedIds& idsAt(int x, int y) const
    {
        return ids[static_cast<std::size_t>(y) * static_cast<std::size_t>(shape.regionWidth) + static_cast<std::size_t>(x)];
    }
    // Rows that lie below these.
    void append(const LightShares& below);
    float alpha(int x, int y) const { return *at(x, y); }
    const Rgb* entries(int x, int y) const { return reinterpret_cast<const Rgb*>(at(x, y) + 1); }
};

// As gathered. O(pixels), parallel.
LightShares sharesOf(const Film& film);

// Adds what the film's pixels show and how deep it lies. O(pixels), parallel.
void addIds(LightShares& shares, const Film& film, const Viewpoint& from);

// The same, averaged over blocks of at least `step` x `step` pixels, for a picture on screen that is smaller. O(pixels), parallel.
LightShares smaller(const LightShares& shares, int step);

}  // namespace film
