// The fast form of noise reduction; see clean.h.
#include <atomic>
#include <cmath>

#include "base/parallel.h"
#include "denoise/clean.h"
#include "denoise/rows.h"

namespace denoise {

namespace {

constexpr int kLevels = 3;
constexpr float kLeastFirst = 0.05f;   // weight of any covered neighbour on the first level: single specks find no like one
constexpr int kBorder = rows::kLanes;  // px at either end of each row that show nothing; more than the widest step
static_assert(kBorder >= 1 << (kLevels - 1));
constexpr int kTileWidth = 160, kTileHeight = 96;      // px: what a tile needs stays near the processor
constexpr int kSurroundings = 1 + (1 << kLevels) - 1;  // px round it that its noise and its neighbours need

// Widths of the guides: a difference of 2 in scaled guides is none alike any more.
constexpr float kNormal = 3.46f, kMirrorNormal = 2.45f, kDepth = 63, kMirrorDepth = 20, kCoverage = 2.83f;

// Planes of floats with a border, so that rows are filtered whole.
class Planes {
public:
    Planes(std::size_t count, int width, int height)
        : m_pitch(((width + rows::kLanes - 1) / rows::kLanes) * rows::kLanes + 2 * kBorder),
          m_size(static_cast<std::size_t>(m_pitch) * static_cast<std::size_t>(height)),
          m_values(count * m_size + 2 * kBorder)
    {
    }
    std::ptrdiff_t pitch() const { return m_pitch; }
    float* row(std::size_t plane, int y)
    {
        return m_values.data() + plane * m_size + static_cast<std::size_t>(y) * static_cast<std::size_t>(m_pitch) + kBorder;
    }
    void swap(Planes& other) { m_values.swap(other.m_values); }

private:
    int m_pitch;
    std::size_t m_size;
    std::vector<float> m_values;
};

// One tile of the picture and what lies round it. Coordinates are its own.
class FastTile {
public:
    // `seen` in px of the region: the tile with its surroundings, as far as there are any.
    FastTile(const Film& film, const std::vector<Rgb>& desk, LightShares& shares, Film::Rect seen)
        : m_shares(shares),
          m_desk(desk),
          m_seen(seen),
          m_width(seen.x1 - seen.x0),
          m_height(seen.y1 - seen.y0),
          m_count((m_width + rows::kLanes - 1) / rows::kLanes * rows::kLanes),
          m_channels(3 * shares.shape.entries.size()),
          m_guides(rows::FastRow::kGuides, m_width, m_height),
          m_divisor(3, m_width, m_height),
          m_light(1, m_width, m_height),
          m_lightNoise(1, m_width, m_height),
          m_noise(1, m_width, m_height),
          m_values(m_channels, m_width, m_height),
          m_nextNoise(1, m_width, m_height),
          m_nextValues(m_channels, m_width, m_height)
    {
        for (int y = 0; y < m_height; ++y)
            loadRow(film, y);
        for (int y = 0; y < m_height; ++y)
            estimateRow(y);
        m_light.swap(m_nextNoise);
    }

    void level(int step, float least)
    {
        for (int y = 0; y < m_height; ++y)
            filterRow(y, step, least);
        m_values.swap(m_nextValues);
        m_noise.swap(m_nextNoise);
        m_comparesMeans = false;
        for (int y = 0; y < m_height; ++y)
            lightRow(y);
    }

    // Writes the tile itself.
    void finish(const Film::Rect& tile)
    {
        for (int y = tile.y0; y < tile.y1; ++y) {
            const float* coverage = m_guides.row(rows::FastRow::kGuides - 1, y - m_seen.y0) - m_seen.x0;
            for (int x = tile.x0; x < tile.x1; ++x)
                *m_shares.at(x, y) = coverage[x] / kCoverage;
            for (std::size_t c = 0; c < m_channels; ++c) {
                const float *value = m_values.row(c, y - m_seen.y0) - m_seen.x0, *divisor = m_divisor.row(c % 3, y - m_seen.y0) - m_seen.x0;
                float* to = m_shares.at(tile.x0, y) + 1 + c;
                for (int x = tile.x0; x < tile.x1; ++x, to += m_shares.stride())
                    *to = value[x] * divisor[x];
            }
        }
    }

private:
    void loadRow(const Film& film, int y)
    {
        const FilmShape& s = film.shape();
        float *guides[rows::FastRow::kGuides], *divisors[3];
        for (std::size_t g = 0; g < std::size(guides); ++g)
            guides[g] = m_guides.row(g, y);
        for (std::size_t c = 0; c < 3; ++c)
            divisors[c] = m_divisor.row(c, y);
        std::vector<float*> values;
        for (std::size_t c = 0; c < m_channels; ++c)
            values.push_back(m_values.row(c, y));
        for (int x = 0; x < m_width; ++x) {
            const Film::Pixel p = film.at(s.regionX + m_seen.x0 + x, s.regionY + m_seen.y0 + y);
            if (p.samples == 0)
                continue;
            const PixelSums &a = *p.halves[0], &b = *p.halves[1];
            const float scale = 1.0f / static_cast<float>(p.samples), alpha = (a.alpha + b.alpha) * scale;
            if (!(alpha > 0))
                continue;
            const float depth = (a.depth + b.depth) * scale / alpha;
            const Vec3f normal = (a.normal + b.normal) * (scale * kNormal),
                        mirrorNormal = (a.mirrorNormal + b.mirrorNormal) * (scale * kMirrorNormal);
            const float of[] = {normal.x,
                                normal.y,
                                normal.z,
                                mirrorNormal.x,
                                mirrorNormal.y,
                                mirrorNormal.z,
                                depth / (depth + s.reach) * kDepth,
                                (a.mirrorDepth + b.mirrorDepth) * scale * kMirrorDepth,
                                alpha * kCoverage};
            for (std::size_t g = 0; g < std::size(of); ++g)
                guides[g][x] = of[g];
            float over[3];
            for (int c = 0; c < 3; ++c) {
                const float divisor = std::max((a.mirrorAlbedo[c] + b.mirrorAlbedo[c]) * scale, 0.01f * alpha) + 0.04f * alpha + 1e-6f;
                divisors[c][x] = divisor;
                over[c] = scale / divisor;
            }
            const Rgb *ca = p.colours[0], *cb = p.colours[1];
            for (std::size_t e = 0; e < m_desk.size(); ++e)
                for (int c = 0; c < 3; ++c)
                    values[3 * e + static_cast<std::size_t>(c)][x] = (ca[e][c] + cb[e][c]) * over[c];
        }
        lightRow(y);
    }
    void lightRow(int y)
    {
        float* const light = m_light.row(0, y);
        std::fill(light, light + m_count, 0.0f);
        for (std::size_t e = 0; e < m_desk.size(); ++e) {
            const float weights[3] = {luminance(Rgb{m_desk[e].x, 0, 0}), luminance(Rgb{0, m_desk[e].y, 0}),
                                      luminance(Rgb{0, 0, m_desk[e].z})};
            for (std::size_t c = 0; c < 3; ++c)
                rows::addScaled(weights[c], m_values.row(3 * e + c, y), m_count, light);
        }
    }
    rows::FastRow rowOf(int y)
    {
        rows::FastRow row{};
        for (std::size_t g = 0; g < std::size(row.guides); ++g)
            row.guides[g] = m_guides.row(g, y);
        row.light = m_light.row(0, y);
        row.noise = m_noise.row(0, y);
        row.lightNoise = m_comparesMeans ? m_lightNoise.row(0, y) : row.noise;
        return row;
    }
    bool isRow(int y) const { return y >= 0 && y < m_height; }
    // Squared noise of a pixel from the spread of 3 x 3 pixels that face the same way. The first level compares their means: single pixels
    // of few samples are too unlike for what is alike to be found among them.
    void estimateRow(int y)
    {
        std::vector<std::ptrdiff_t> offsets;
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx)
                if (isRow(y + dy))
                    offsets.push_back(dy * m_guides.pitch() + dx);
        rows::fastSpread(rowOf(y), offsets, m_count, m_nextNoise.row(0, y), m_noise.row(0, y));
        std::fill(m_lightNoise.row(0, y), m_lightNoise.row(0, y) + m_count, 0.0f);
        rows::addScaled(1.0f / 9, m_noise.row(0, y), m_count, m_lightNoise.row(0, y));
    }
    void filterRow(int y, int step, float least)
    {
        constexpr float kKernel[2] = {0.5f, 0.25f};
        const rows::FastRow row = rowOf(y);
        std::vector<float> weights(static_cast<std::size_t>(m_count)), sums(weights.size());
        float* const noises = m_nextNoise.row(0, y);
        std::fill(noises, noises + m_count, 0.0f);
        for (std::size_t c = 0; c < m_channels; ++c)
            std::fill(m_nextValues.row(c, y), m_nextValues.row(c, y) + m_count, 0.0f);
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1 && isRow(y + dy * step); ++dx) {
                rows::fastWeights(row, (dy * m_guides.pitch() + dx) * step, kKernel[std::abs(dx)] * kKernel[std::abs(dy)], least, m_count,
                                  weights.data(), sums.data(), noises);
                for (std::size_t c = 0; c < m_channels; ++c)
                    rows::addWeighted(weights.data(), m_values.row(c, y + dy * step) + dx * step, m_count, m_nextValues.row(c, y));
            }
        rows::fastMeans(m_count, sums.data(), noises);
        for (std::size_t c = 0; c < m_channels; ++c)
            rows::multiply(sums.data(), m_count, m_nextValues.row(c, y));
    }

    LightShares& m_shares;
    const std::vector<Rgb>& m_desk;
    Film::Rect m_seen;
    int m_width, m_height, m_count;  // m_count: pixels of a row, in whole vectors
    std::size_t m_channels;
    Planes m_guides, m_divisor, m_light, m_lightNoise, m_noise;  // light: luminance of the mix over albedo; noise: squared
    bool m_comparesMeans = true;
    Planes m_values;  // shares over albedo
    Planes m_nextNoise, m_nextValues;
};

}  // namespace

bool cleanQuickly(const Film& film, const std::vector<Rgb>& desk, LightShares& shares, const base::Progress& progress)
{
    const int width = shares.shape.regionWidth, height = shares.shape.regionHeight, across = (width + kTileWidth - 1) / kTileWidth,
              down = (height + kTileHeight - 1) / kTileHeight;
    std::atomic<bool> stopped{false};
    base::parallelFor(static_cast<std::size_t>(across * down), [&](std::size_t index) {
        if (stopped || progress.stopRequested()) {
            stopped = true;
            return;
        }
        const int x = static_cast<int>(index) % across * kTileWidth, y = static_cast<int>(index) / across * kTileHeight;
        const Film::Rect tile{x, y, std::min(x + kTileWidth, width), std::min(y + kTileHeight, height)};
        FastTile fast(film, desk, shares,
                      {std::max(0, tile.x0 - kSurroundings), std::max(0, tile.y0 - kSurroundings), std::min(width, tile.x1 + kSurroundings),
                       std::min(height, tile.y1 + kSurroundings)});
        for (int level = 0; level < kLevels; ++level)
            fast.level(1 << level, level == 0 ? kLeastFirst : 0);
        fast.finish(tile);
    });
    return !stopped;
}

}  // namespace denoise
