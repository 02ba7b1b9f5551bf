// Small pictures whose answers are known, for the steps of the finish.
#pragma once

#include <random>

#include "finish/develop.h"

namespace small {

using base::Rgb;
using film::PixelId;
using finish::DevelopSettings;
using finish::Layer;

inline constexpr PixelId kLetter{1, 1, 1}, kOtherLetter{1, 2, 1}, kOtherSide{2, 1, 3}, kWall{0, 0, 254}, kNothing{};

// A picture of one light: fill(x, y) gives colour as typed (linear), coverage and what is seen.
template <class Fill>
film::LightShares pictureOf(int width, int height, Fill fill)
{
    film::LightShares shares({width, height, 0, 0, width, height, {{"l1"}}});
    shares.ids.resize(std::size_t(width) * std::size_t(height));
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            film::RankedIds& ids = shares.ids[std::size_t(y) * std::size_t(width) + std::size_t(x)];
            const auto [colour, alpha] = fill(x, y, ids);
            float* to = shares.at(x, y);
            to[0] = alpha;
            to[1] = colour.x * alpha;
            to[2] = colour.y * alpha;
            to[3] = colour.z * alpha;
        }
    return shares;
}

// A letter on the left, half a pixel column of both, wall on the right; the last rows show nothing.
inline film::LightShares letterOnWall(int width = 40, int height = 30)
{
    return pictureOf(width, height, [=](int x, int y, film::RankedIds& ids) {
        const bool nothing = y >= height - 5;
        const float letter = nothing ? 0 : x < width / 2 ? 1.0f : x == width / 2 ? 0.5f : 0.0f;
        ids.ids[0] = letter >= 0.5f ? (x < 4 ? kOtherLetter : kLetter) : nothing ? kNothing : kWall;
        ids.shares[0] = letter == 0.5f ? 0.5f : 1;
        ids.ids[1] = kWall;
        ids.shares[1] = letter == 0.5f ? 0.5f : 0;
        const Rgb grey = Rgb{0.6f, 0.3f, 0.1f} * letter + Rgb{0.5f, 0.5f, 0.5f} * (1 - letter);
        return std::pair(grey, nothing ? 0.0f : 1.0f);
    });
}

// Something everywhere, as a render is.
inline film::LightShares busy(int width, int height)
{
    std::mt19937 random(5);
    std::uniform_real_distribution<float> uniform;
    return pictureOf(width, height, [&](int x, int y, film::RankedIds& ids) {
        ids.ids[0] = (x / 7 + y / 5) % 2 ? kLetter : kWall;
        ids.shares[0] = 1;
        ids.depth = static_cast<float>((x * 7 + y * 3) % 60 - 30);
        return std::pair(Rgb{uniform(random), uniform(random), 2 * uniform(random)}, 1.0f);
    });
}

template <class What>
Layer layer(What what, double strength = 1, finish::Blend blend = finish::Blend::Normal)
{
    return {strength, blend, {}, what};
}

inline DevelopSettings with(std::vector<Layer> layers, double widthPt = 40)
{
    DevelopSettings s;
    s.desk = {{1, 1, 1}};
    s.backdrop = {1, 1, 1};
    s.layers = std::move(layers);
    s.widthPt = widthPt;
    return s;
}

inline Rgb at(const picture::Raster<float>& raster, int x, int y)
{
    return {raster.at(x, y)[0], raster.at(x, y)[1], raster.at(x, y)[2]};
}

}  // namespace small
