#include "files/light_source.h"

namespace files {

LightSource sourceOf(std::shared_ptr<const LightFile> light)
{
    return {light->shares.shape, 1, [light](int) -> base::Result<film::LightShares> { return light->shares; }};
}

LightSource sourceOf(std::shared_ptr<const film::LightShares> shares)
{
    return {shares->shape, 1, [shares](int) -> base::Result<film::LightShares> { return *shares; }};
}

film::LightShares rowsOf(const film::LightShares& shares, int y0, int y1)
{
    film::FilmShape shape = shares.shape;
    shape.regionY = y0;
    shape.regionHeight = y1 - y0;
    film::LightShares part(shape);
    const float* from = shares.at(0, y0 - shares.shape.regionY);
    std::copy(from, from + part.values.size(), part.values.begin());
    if (!shares.ids.empty()) {
        const auto width = static_cast<std::ptrdiff_t>(shape.regionWidth);
        const auto first = shares.ids.begin() + (y0 - shares.shape.regionY) * width;
        part.ids.assign(first, first + shape.regionHeight * width);
    }
    return part;
}

base::Result<film::LightShares> smallerLight(const LightSource& light, int step)
{
    film::FilmShape shape = light.shape;
    film::LightShares result;
    film::LightShares rest;  // rows of a band's end that are no whole step yet
    for (int band = 0; band < light.bands; ++band) {
        auto part = light.get(band);
        if (!part)
            return tl::unexpected<base::Error>(part.error());
        if (rest.shape.regionHeight == 0)
            rest = std::move(*part);
        else
            rest.append(*part);
        const int y0 = rest.shape.regionY, y1 = y0 + rest.shape.regionHeight, whole = y0 + rest.shape.regionHeight / step * step;
        if (whole > y0) {
            const film::LightShares small = film::smaller(rowsOf(rest, y0, whole), step);
            if (result.values.empty()) {
                shape = small.shape;
                result.shape.entries = shape.entries;
            }
            result.append(small);
            rest = whole < y1 ? rowsOf(rest, whole, y1) : film::LightShares();
        }
    }
    if (result.values.empty())
        return film::smaller(rest, step);
    shape.regionY = light.shape.regionY / step;
    shape.height = std::max(1, light.shape.height / step);
    result.shape = shape;
    result.shape.regionHeight = static_cast<int>(result.values.size() / (static_cast<std::size_t>(shape.regionWidth) * result.stride()));
    return result;
}

}  // namespace files
