#include "finish/develop.h"

#include <cmath>

#include "base/parallel.h"
#include "render/sampler.h"

namespace finish {

namespace {

constexpr float kScreenWhite = 1 + 1.0f / 255;  // a step over 1, so that white paper is not marked for its rounding

// What is seen of a covered place: light without coverage, through the view transform; still linear.
Rgb throughView(Rgb light, float alpha, const DevelopSettings& s)
{
    return picture::applyViewTransform(light * (1 / alpha), s.viewTransform);
}

// Calls each(x, y in the region, means of the entries, coverage) for every pixel.
template <class Each>
void forPixels(const film::LightShares& shares, Each each)
{
    base::parallelFor(static_cast<std::size_t>(shares.shape.regionHeight), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < shares.shape.regionWidth; ++x)
            each(x, y, shares.entries(x, y), shares.alpha(x, y));
    });
}

}  // namespace

Rgb mixed(const Rgb* entries, const DevelopSettings& s)
{
    Rgb sum;
    for (std::size_t i = 0; i < s.desk.size(); ++i)
        sum += entries[i] * s.desk[i];
    return s.exposureStops == 0 ? sum : sum * std::exp2(static_cast<float>(s.exposureStops));
}

Rgb shown(Rgb light, float alpha, const DevelopSettings& s, bool quick)
{
    Rgb seen;
    if (alpha > 0)
        seen = throughView(light, alpha, s) * (s.transparent ? 1 : alpha);
    if (!s.transparent)
        seen += s.backdrop * (1 - alpha);
    return quick ? picture::encodeSrgbQuickly(seen) : picture::encodeSrgb(seen);
}

Rgb developed(const Rgb* entries, float alpha, const DevelopSettings& s)
{
    return shown(alpha > 0 ? mixed(entries, s) : Rgb{}, alpha, s);
}

film::Viewing viewingOf(const DevelopSettings& settings)
{
    film::Viewing viewing{settings.desk, [settings](Rgb light, float alpha) { return shown(light, alpha, settings); }};
    for (Rgb& factor : viewing.desk)
        factor *= std::exp2(static_cast<float>(settings.exposureStops));
    return viewing;
}

picture::Raster<float> develop(const film::LightShares& shares, const DevelopSettings& s)
{
    picture::Raster<float> raster(shares.shape.regionWidth, shares.shape.regionHeight, s.transparent ? 4 : 3);
    forPixels(shares, [&](int x, int y, const Rgb* mean, float alpha) {
        const Rgb seen = developed(mean, alpha, s);
        float* out = raster.at(x, y);
        out[0] = seen.x;
        out[1] = seen.y;
        out[2] = seen.z;
        if (s.transparent)
            out[3] = alpha;
    });
    return raster;
}

picture::Raster<std::uint8_t> clipped(const film::LightShares& shares, const DevelopSettings& s)
{
    picture::Raster<std::uint8_t> raster(shares.shape.regionWidth, shares.shape.regionHeight, 1);
    forPixels(shares, [&](int x, int y, const Rgb* mean, float alpha) {
        const Rgb light = mixed(mean, s);
        *raster.at(x, y) = alpha > 0 && std::max({light.x, light.y, light.z}) > alpha * kScreenWhite;
    });
    return raster;
}

picture::Raster<std::uint8_t> to8Bits(const picture::Raster<float>& encoded, int firstRow)
{
    picture::Raster<std::uint8_t> result(encoded.width, encoded.height, encoded.channels);
    base::parallelFor(static_cast<std::size_t>(encoded.height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < encoded.width; ++x) {
            std::uint32_t hash =
                render::mixBits(static_cast<std::uint32_t>(x) + render::mixBits(static_cast<std::uint32_t>(firstRow + y) + 0x51ed270bu));
            for (int c = 0; c < encoded.channels; ++c) {
                const float v = std::clamp(encoded.at(x, y)[c], 0.0f, 1.0f) * 255;
                // A hair above exact values counts as exact: 1e-3 is far below what dither can show.
                const float nearest = std::round(v);
                const float chance = static_cast<float>(hash >> 8) * 0x1p-24f;
                const bool exact = c == 3 || std::abs(v - nearest) < 1e-3f;
                result.at(x, y)[c] = static_cast<std::uint8_t>(exact ? nearest : std::floor(v + chance));
                hash = render::mixBits(hash + 0x9e3779b9u);
            }
        }
    });
    return result;
}

picture::Raster<std::uint16_t> to16Bits(const picture::Raster<float>& encoded)
{
    picture::Raster<std::uint16_t> result(encoded.width, encoded.height, encoded.channels);
    for (std::size_t i = 0; i < encoded.values.size(); ++i)
        result.values[i] = static_cast<std::uint16_t>(std::lround(std::clamp(encoded.values[i], 0.0f, 1.0f) * 65535));
    return result;
}

}  // namespace finish
