#include "render/shares.h"

#include "base/parallel.h"

namespace render {

LightShares sharesOf(const Film& film)
{
    LightShares shares{film.shape(), {}};
    const FilmShape& s = shares.shape;
    shares.values.resize(static_cast<std::size_t>(s.regionWidth) * static_cast<std::size_t>(s.regionHeight) * shares.stride());
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int r = static_cast<int>(row);
        for (int c = 0; c < s.regionWidth; ++c) {
            const int x = s.regionX + c, y = s.regionY + r;
            const std::uint32_t n = film.samplesAt(x, y);
            if (n == 0)
                continue;
            const float scale = 1.0f / static_cast<float>(n);
            const Rgb *a = film.colours(x, y, 0), *b = film.colours(x, y, 1);
            float* to = shares.at(c, r);
            *to++ = (film.sums(x, y, 0).alpha + film.sums(x, y, 1).alpha) * scale;
            for (std::size_t i = 0; i < s.entries.size(); ++i) {
                const Rgb mean = (a[i] + b[i]) * scale;
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
    LightShares result{shares.shape, {}};
    FilmShape& s = result.shape;
    s.regionWidth = std::max(1, shares.shape.regionWidth / step);
    s.regionHeight = std::max(1, shares.shape.regionHeight / step);
    s.width = std::max(1, s.width / step);
    s.height = std::max(1, s.height / step);
    s.regionX /= step;
    s.regionY /= step;
    const std::size_t stride = result.stride();
    result.values.resize(static_cast<std::size_t>(s.regionWidth) * static_cast<std::size_t>(s.regionHeight) * stride);
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

}  // namespace render
