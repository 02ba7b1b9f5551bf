#include "denoise/clean.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>

#include "base/parallel.h"
#include "base/pool.h"
#include "denoise/tile.h"

namespace denoise {

namespace {

constexpr int kGlimpsed = 5;  // one tile of so many, each a knight's move from the next
constexpr int kCell = 8;      // px of the coarse residual's cells; a tile's core is made of whole ones

// What the filters took away, summed over cells, and the coverage there.
struct Residual {
    int width = 0, height = 0;
    std::vector<Rgb> sums;  // entries of each cell
    std::vector<float> alpha;

    std::size_t cell(int x, int y) const
    {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    }

    // A box of three cells twice, each way.
    void blur(std::size_t entries)
    {
        for (int pass = 0; pass < 2; ++pass)
            for (const auto& [dx, dy] : {std::pair{1, 0}, std::pair{0, 1}}) {
                const std::vector<Rgb> before = sums;
                const std::vector<float> alphaBefore = alpha;
                base::parallelFor(static_cast<std::size_t>(height), [&, dx = dx, dy = dy](std::size_t row) {
                    const int y = static_cast<int>(row);
                    for (int x = 0; x < width; ++x)
                        for (int step = -1; step <= 1; step += 2) {
                            const int ox = x + step * dx, oy = y + step * dy;
                            if (ox < 0 || oy < 0 || ox >= width || oy >= height)
                                continue;
                            alpha[cell(x, y)] += alphaBefore[cell(ox, oy)];
                            for (std::size_t e = 0; e < entries; ++e)
                                sums[cell(x, y) * entries + e] += before[cell(ox, oy) * entries + e];
                        }
                });
            }
    }
};

// Gives back, wherever something is covered, what was taken away round about.
void giveBack(Residual& residual, LightShares& shares)
{
    const std::size_t entries = shares.shape.entries.size();
    residual.blur(entries);
    for (std::size_t cell = 0; cell < residual.alpha.size(); ++cell)
        for (std::size_t e = 0; e < entries; ++e) {
            Rgb& sum = residual.sums[cell * entries + e];
            sum = residual.alpha[cell] > 0 ? sum / residual.alpha[cell] : Rgb{};
        }
    const auto placed = [](int pixel, int cells) {
        const float at = std::clamp((static_cast<float>(pixel) + 0.5f) / kCell - 0.5f, 0.0f, static_cast<float>(cells - 1));
        const int first = std::min(static_cast<int>(at), std::max(0, cells - 2));
        return std::pair{first, at - static_cast<float>(first)};
    };
    base::parallelFor(static_cast<std::size_t>(shares.shape.regionHeight), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        const auto [cy, fy] = placed(y, residual.height);
        const int below = std::min(cy + 1, residual.height - 1);
        for (int x = 0; x < shares.shape.regionWidth; ++x) {
            const float alpha = shares.alpha(x, y);
            if (!(alpha > 0))
                continue;
            const auto [cx, fx] = placed(x, residual.width);
            const int after = std::min(cx + 1, residual.width - 1);
            const std::size_t corners[4] = {residual.cell(cx, cy) * entries, residual.cell(after, cy) * entries,
                                            residual.cell(cx, below) * entries, residual.cell(after, below) * entries};
            float* to = shares.at(x, y) + 1;
            for (std::size_t e = 0; e < entries; ++e) {
                const Rgb* s = residual.sums.data();
                const Rgb back =
                    lerp(lerp(s[corners[0] + e], s[corners[1] + e], fx), lerp(s[corners[2] + e], s[corners[3] + e], fx), fy) * alpha;
                *to++ += back.x;
                *to++ += back.y;
                *to++ += back.z;
            }
        }
    });
}

void putHalves(picture::Raster<float>& halves, int x, int y, Rgb a, Rgb b)
{
    float* to = halves.at(x, y);
    for (const Rgb half : {a, b}) {
        *to++ = half.x;
        *to++ = half.y;
        *to++ = half.z;
    }
}

// The halves of the mix as gathered.
picture::Raster<float> halvesOf(const Film& film, const std::vector<Rgb>& desk)
{
    const FilmShape& s = film.shape();
    picture::Raster<float> halves(s.regionWidth, s.regionHeight, 6);
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        for (int c = 0; c < s.regionWidth; ++c) {
            const Film::Pixel p = film.at(s.regionX + c, s.regionY + static_cast<int>(row));
            Rgb mix[2];
            for (int half = 0; half < 2; ++half)
                for (std::size_t e = 0; e < desk.size(); ++e)
                    mix[half] += p.colours[half][e] * desk[e] * (1.0f / static_cast<float>(std::max(1u, Film::inHalf(p.samples, half))));
            putHalves(halves, c, static_cast<int>(row), mix[0], mix[1]);
        }
    });
    return halves;
}

// A single bright path in the dark is left as a speck: no neighbour is like it. A pixel is one when it is much brighter than those round
// it and only one half has seen it; it becomes as bright as their median, and what it loses is given back round about. What both halves
// have seen (a lamp in a thin edge, a star) stays. The halves keep it: more samples should go there.
void takeSpecks(const Film& film, const std::vector<Rgb>& desk, Cleaned& cleaned, Residual& residual)
{
    constexpr float kBrighter = 6, kOneSided = 0.25f;
    const FilmShape& s = film.shape();
    const std::size_t entries = desk.size();
    struct Speck {
        int x, y;
        float share;  // of its light that stays
    };
    std::vector<float> light(static_cast<std::size_t>(s.regionWidth) * static_cast<std::size_t>(s.regionHeight));
    const auto lightAt = [&](int x, int y) -> float& {
        return light[static_cast<std::size_t>(y) * static_cast<std::size_t>(s.regionWidth) + static_cast<std::size_t>(x)];
    };
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < s.regionWidth; ++x) {
            Rgb mix;
            for (std::size_t e = 0; e < entries; ++e)
                mix += cleaned.shares.entries(x, y)[e] * desk[e];
            lightAt(x, y) = luminance(mix);
        }
    });
    const auto isOneSided = [&](int x, int y) {
        const Film::Pixel p = film.at(s.regionX + x, s.regionY + y);
        float half[2] = {};
        for (int h = 0; h < 2; ++h)
            for (std::size_t e = 0; e < entries; ++e)
                half[h] += luminance(p.colours[h][e] * desk[e]) / static_cast<float>(std::max(1u, Film::inHalf(p.samples, h)));
        return std::min(half[0], half[1]) < kOneSided * std::max(half[0], half[1]);
    };
    std::vector<std::vector<Speck>> specks(static_cast<std::size_t>(s.regionHeight));
    base::parallelFor(specks.size(), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        if (y == 0 || y + 1 == s.regionHeight)
            return;
        for (int x = 1; x + 1 < s.regionWidth; ++x) {
            const float own = lightAt(x, y);
            const float least = std::min(std::min(lightAt(x - 1, y), lightAt(x + 1, y)), std::min(lightAt(x, y - 1), lightAt(x, y + 1)));
            if (!(own > kBrighter * least))
                continue;  // most are not
            std::array<float, 8> round{};
            std::size_t count = 0;
            for (int j = -1; j <= 1; ++j)
                for (int i = -1; i <= 1; ++i)
                    if (i != 0 || j != 0)
                        round[count++] = lightAt(x + i, y + j);
            std::nth_element(round.begin(), round.begin() + 4, round.end());
            if (own > kBrighter * round[4] && isOneSided(x, y))
                specks[row].push_back({x, y, round[4] / own});
        }
    });
    for (const auto& row : specks)
        for (const Speck& speck : row) {
            const std::size_t cell = residual.cell(speck.x / kCell, speck.y / kCell);
            float* to = cleaned.shares.at(speck.x, speck.y) + 1;
            for (std::size_t e = 0; e < entries; ++e) {
                residual.sums[cell * entries + e] += Rgb{to[3 * e], to[3 * e + 1], to[3 * e + 2]} * (1 - speck.share);
                for (std::size_t c = 0; c < 3; ++c)
                    to[3 * e + c] *= speck.share;
            }
        }
}

// Brightness of each entry against the brightest, in steps of four.
std::vector<Rgb> weighingOf(const std::vector<Rgb>& desk)
{
    constexpr float kMostSteps = 8;
    float most = 0;
    for (const Rgb& factor : desk)
        most = std::max(most, luminance(factor));
    std::vector<Rgb> weighing;
    for (const Rgb& factor : desk) {
        const float own = luminance(factor);
        const float steps = own > 0 ? std::min(kMostSteps, std::round(std::log2(most / own) / 2)) : most > 0 ? kMostSteps : 0;
        const float w = std::exp2(-2 * steps);
        weighing.push_back({w, w, w});
    }
    return weighing;
}

// Coverage with the first hits of edges.
float sharpAlpha(const Film& film, int x, int y)
{
    const Film::Pixel p = film.at(x, y);
    return (p.halves[0]->alpha + p.halves[1]->alpha + p.edge->alpha) / (static_cast<float>(p.samples) + p.edge->rays);
}

bool cleanFully(const Film& film, const std::vector<Rgb>& desk, bool glimpse, Cleaned& cleaned, const base::Progress& progress)
{
    LightShares& shares = cleaned.shares;
    const FilmShape& s = film.shape();
    const int entries = film.entryCount();
    cleaned.halves = picture::Raster<float>(s.regionWidth, s.regionHeight, 6);
    Residual residual{(s.regionWidth + kCell - 1) / kCell, (s.regionHeight + kCell - 1) / kCell, {}, {}};
    residual.alpha.assign(static_cast<std::size_t>(residual.width) * static_cast<std::size_t>(residual.height), 0);
    residual.sums.assign(residual.alpha.size() * static_cast<std::size_t>(entries), {});

    constexpr int kCore = Tile::kCore;
    const std::vector<Rgb> weighing = weighingOf(desk);
    std::vector<Film::Rect> tiles;
    for (int y = 0; y < s.regionHeight; y += kCore)
        for (int x = 0; x < s.regionWidth; x += kCore)
            if (!glimpse || (x + 2 * y) / kCore % kGlimpsed == 0)
                tiles.push_back({x, y, std::min(s.regionWidth, x + kCore), std::min(s.regionHeight, y + kCore)});
    cleaned.parts = glimpse ? tiles : cleaned.parts;
    base::Pool<Tile> tools([&] { return std::make_unique<Tile>(entries); });
    std::atomic<int> finished{0};
    std::atomic<bool> stopped{false};
    base::parallelFor(tiles.size(), [&](std::size_t index) {
        if (stopped)
            return;
        const int x0 = tiles[index].x0, y0 = tiles[index].y0;
        const auto tile = tools.take();
        if (!tile->clean(film, weighing, desk, x0, y0, progress)) {
            stopped = true;
            return;
        }
        for (int y = 0; y < tile->coreHeight(); ++y)
            for (int x = 0; x < tile->coreWidth(); ++x) {
                const int px = x0 + x, py = y0 + y;
                const std::size_t cell = residual.cell(px / kCell, py / kCell);
                float* to = shares.at(px, py);
                const float alpha = sharpAlpha(film, s.regionX + px, s.regionY + py);
                const float covered = alpha > 0 ? 1 : 0;
                residual.alpha[cell] += alpha;
                *to++ = alpha;
                Rgb mix;
                for (int e = 0; e < entries; ++e) {
                    const Rgb share = tile->share(e, x, y) * covered;
                    mix += share * desk[static_cast<std::size_t>(e)];
                    residual.sums[cell * static_cast<std::size_t>(entries) + static_cast<std::size_t>(e)] += tile->takenAway(e, x, y);
                    *to++ = share.x;
                    *to++ = share.y;
                    *to++ = share.z;
                }
                const Rgb a = tile->halfA(x, y) * covered;
                putHalves(cleaned.halves, px, py, a, mix * 2 - a);
            }
        progress.set(static_cast<double>(++finished) / static_cast<double>(tiles.size()));
    });
    if (stopped)
        return false;
    if (!glimpse)
        takeSpecks(film, weighing, cleaned, residual);
    giveBack(residual, shares);
    return true;
}

}  // namespace

// In denoise_fast.cpp.
bool cleanQuickly(const Film& film, const std::vector<Rgb>& desk, LightShares& shares, const base::Progress& progress);

base::Result<Cleaned> clean(const Film& film, const CleanSettings& settings, const base::Progress& progress)
{
    std::vector<Rgb> desk = settings.desk;
    desk.resize(film.shape().entries.size(), {1, 1, 1});
    Cleaned cleaned;
    cleaned.form = settings.form == Mode::Full && film.leastSamples() < kFullFrom && !settings.glimpse ? Mode::Fast : settings.form;
    cleaned.parts = {{0, 0, film.shape().regionWidth, film.shape().regionHeight}};
    bool done = true;
    if (cleaned.form == Mode::Off) {
        cleaned.shares = sharesOf(film);
        cleaned.halves = halvesOf(film, desk);
    } else {
        cleaned.shares = LightShares(film.shape());
        done = cleaned.form == Mode::Full ? cleanFully(film, desk, settings.glimpse, cleaned, progress)
                                          : cleanQuickly(film, weighingOf(desk), cleaned.shares, progress);
    }
    if (!done)
        return base::fail(base::ErrorCode::Stopped, "Stopped while noise was reduced");
    // Regressions may fall below nothing; light does not.
    base::parallelFor(static_cast<std::size_t>(film.shape().regionHeight), [&](std::size_t y) {
        float* row = cleaned.shares.at(0, static_cast<int>(y));
        for (std::size_t i = 0; i < cleaned.shares.stride() * static_cast<std::size_t>(film.shape().regionWidth); ++i)
            row[i] = std::max(row[i], 0.0f);
    });
    return cleaned;
}

}  // namespace denoise
