#include "film/passes.h"

#include <algorithm>

#include "base/parallel.h"

namespace film {

picture::Passes passesFrom(const Film& film, const LightShares& shares)
{
    const FilmShape& s = shares.shape;
    picture::Passes passes;
    const auto add = [&](std::string name, std::vector<std::string> channels) {
        const int count = static_cast<int>(channels.size());
        passes.push_back({std::move(name), std::move(channels), picture::Raster<float>(s.regionWidth, s.regionHeight, count)});
    };
    for (const Entry& entry : s.entries)
        add("light." + entry.name, {"R", "G", "B"});
    const std::size_t lights = passes.size();
    add("alpha", {"A"});
    add("albedo", {"R", "G", "B"});
    add("normal", {"X", "Y", "Z"});
    add("depth", {"Z"});
    add("ids", {"piece", "letter", "part"});
    for (int i = 1; i <= kIds; ++i)
        add("coverage" + std::to_string(i), {"piece", "letter", "part", "share"});
    add("shadow", {"Y"});
    add("samples", {"n"});

    const auto put3 = [](float* to, Vec3f v) {
        to[0] = v.x;
        to[1] = v.y;
        to[2] = v.z;
    };
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int r = static_cast<int>(row);
        for (int c = 0; c < s.regionWidth; ++c) {
            const int x = s.regionX + c, y = s.regionY + r;
            const Film::Pixel pixel = film.at(x, y);
            const std::uint32_t n = pixel.samples;
            if (n == 0)
                continue;
            const float scale = 1.0f / static_cast<float>(n);
            const PixelSums &a = *pixel.halves[0], &b = *pixel.halves[1];
            for (std::size_t i = 0; i < lights; ++i)
                put3(passes[i].raster.at(c, r), shares.entries(c, r)[i]);
            const float alpha = a.alpha + b.alpha;
            *passes[lights].raster.at(c, r) = alpha * scale;
            put3(passes[lights + 1].raster.at(c, r), (a.albedo + b.albedo) * scale);
            put3(passes[lights + 2].raster.at(c, r), (a.normal + b.normal) * scale);
            *passes[lights + 3].raster.at(c, r) = alpha > 0 ? (a.depth + b.depth) / alpha : 0;
            const PixelId id = pixel.ids->most();
            put3(passes[lights + 4].raster.at(c, r), {float(id.piece), float(id.letter), float(id.part)});
            const RankedIds& ranked = shares.idsAt(c, r);
            for (int i = 0; i < kIds; ++i) {
                float* to = passes[lights + 5 + static_cast<std::size_t>(i)].raster.at(c, r);
                put3(to, {float(ranked.ids[i].piece), float(ranked.ids[i].letter), float(ranked.ids[i].part)});
                to[3] = ranked.shares[i];
            }
            *passes[passes.size() - 2].raster.at(c, r) = std::max(0.0f, (alpha - a.open - b.open) * scale);
            *passes.back().raster.at(c, r) = static_cast<float>(n);
        }
    });
    return passes;
}

}  // namespace film
