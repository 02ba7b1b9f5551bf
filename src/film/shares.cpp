#include "film/shares.h"

#include "base/parallel.h"

namespace film {

LightShares::LightShares(const FilmShape& of)
    : shape(of), values(static_cast<std::size_t>(of.regionWidth) * static_cast<std::size_t>(of.regionHeight) * stride())
{
}

LightShares sharesOf(const Film& film)
{
    LightShares shares(film.shape());
    const FilmShape& s = shares.shape;
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int r = static_cast<int>(row);
        for (int c = 0; c < s.regionWidth; ++c) {
            const Film::Pixel p = film.at(s.regionX + c, s.regionY + r);
            if (p.samples == 0)
                continue;
            const float scale = 1.0f / static_cast<float>(p.samples);
            float* to = shares.at(c, r);
            *to++ = (p.halves[0]->alpha + p.halves[1]->alpha) * scale;
            for (std::size_t i = 0; i < s.entries.size(); ++i) {
                const Rgb mean = (p.colours[0][i] + p.colours[1][i]) * scale;
                *to++ = mean.x;
                *to++ = mean.y;
                *to++ = mean.z;
            }
        }
    });
    return shares;
}

LightShares smaller(const LightShares& shares, int step)
{
    if (step <= 1)
        return shares;
    FilmShape s = shares.shape;
    s.regionWidth = std::max(1, shares.shape.regionWidth / step);
    s.regionHeight = std::max(1, shares.shape.regionHeight / step);
    s.width = std::max(1, s.width / step);
    s.height = std::max(1, s.height / step);
    s.regionX /= step;
    s.regionY /= step;
    LightShares result(s);
    const std::size_t stride = result.stride();
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int r = static_cast<int>(row);
        for (int c = 0; c < s.regionWidth; ++c) {
            float* to = result.at(c, r);
            const int y1 = std::min((r + 1) * step, shares.shape.regionHeight), x1 = std::min((c + 1) * step, shares.shape.regionWidth);
            int count = 0;
            for (int y = r * step; y < y1; ++y)
                for (int x = c * step; x < x1; ++x, ++count)
                    for (std::size_t i = 0; i < stride; ++i)
                        to[i] += shares.at(x, y)[i];
            for (std::size_t i = 0; i < stride; ++i)
                to[i] /= static_cast<float>(std::max(1, count));
        }
    });
    return result;
}

}  // namespace film
