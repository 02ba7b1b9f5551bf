#include "render/draft.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <optional>

#include "base/parallel.h"
#include "render/camera.h"
#include "render/first_hits.h"
#include "render/flush.h"
#include "render/integrator.h"

namespace render {

namespace {

constexpr float kSmallestColour = 0.02f;  // surfaces darker than this are not divided by their colour
// Passes that light of the last draft counts for at most: of rough things, and of mirrors, which show another place from another place.
constexpr float kMostBefore = 16, kMostBeforeMirror = 6;
constexpr float kMostLight = 6;  // of one path, white cards: brighter ones would stand as blocks until many more have come
constexpr int kSpeckReach = 2;   // cells each way that a speck is shared among
constexpr std::size_t kSpeckMates = 4;
constexpr float kSpeck = 1.2f, kLeastSpeck = 0.02f;  // brighter than so many others round it: so many times, and so much of a white card
constexpr int kCalmPasses = 4;                       // whose cells share their light: later ones are calm together
constexpr float kLeastAlike = 0.1f;                  // of the last draft's pixels round a place

Rgb ownColour(const Material& m)
{
    const float layer = 0.04f * m.specular * (1 - m.metallic);
    const auto channel = [&](float c) { return std::max(kSmallestColour, c + layer); };
    return {channel(m.baseColour.x), channel(m.baseColour.y), channel(m.baseColour.z)};
}

Rgb atMost(Rgb light)
{
    const float most = std::max({light.x, light.y, light.z});
    return most > kMostLight ? light * (kMostLight / most) : light;
}

// Whether a pixel of the last draft shows the same place, which was so far from it.
bool isSame(const FirstHits::Seen& now, float depth, const FirstHits::Seen& last)
{
    return now.surface == last.surface && dot(now.normal, last.normal) > 0.9f && std::abs(depth - last.depth) <= 0.01f * depth;
}

// Passes that this material's light may have lasted.
float mostBefore(const Material& m, const Layers& l)
{
    const auto sharp = [](float roughness) { return std::clamp(1.6f - 2 * roughness, 0.0f, 1.0f); };
    const float mirrors = std::max(std::max({m.metallic, l.transmission, 0.25f * m.specular}) * sharp(m.roughness),
                                   0.25f * l.clearcoat * sharp(l.clearcoatRoughness));
    return kMostBefore + (kMostBeforeMirror - kMostBefore) * mirrors;
}

}  // namespace

struct Draft::Inside {
    using Seen = FirstHits::Seen;
    struct Pixel {
        Rgb light;  // mixed, divided by the surface's own colour
        float alpha = 0;
        float passes = 0;  // that it is made of; 0: none
    };
    struct Cell {
        float x = 0, y = 0;  // the pixel its path went through
        Seen seen;
        float alpha = 0;
        Rgb light;        // mixed, divided by the surface's own colour
        float worth = 1;  // what is nearly black in a pattern says little of the light
    };
    struct Sum {
        Rgb light;
        float alpha = 0, weight = 0;
    };

    const Scene* scene = nullptr;
    std::optional<Integrator> integrator;
    FilmShape shape;
    int width = 0, height = 0, cellsX = 0, cellsY = 0, passes = 0;
    std::uint32_t seed = 0, drawn = 0;  // samples that were drawn before, while light stayed
    MixLight mix;
    FirstHits hits, lastHits;
    bool lookedAnew = false;
    std::vector<Rgb> colours;          // own colour of each material
    std::vector<float> lasting;        // see mostBefore()
    std::vector<Cell> cells;           // of the pass that is added
    std::vector<Sum> sums;             // of all passes, by pixel
    std::vector<Pixel> pixels, along;  // as shown last; and what of the last draft was taken along
    bool tookAlong = false, isShown = true;

    bool begin(bool sameLight, const Tracer& tracer, const std::stop_token& stop)
    {
        if (!isShown) {  // the last one came to no picture: what it took along still holds
            tookAlong ? std::swap(pixels, along) : pixels.clear();
            isShown = true;
        }
        width = shape.regionWidth;
        height = shape.regionHeight;
        cellsX = (width + kStep - 1) / kStep;
        cellsY = (height + kStep - 1) / kStep;
        drawn = sameLight ? drawn + static_cast<std::uint32_t>(passes) : 0;
        passes = 0;
        cells.resize(static_cast<std::size_t>(cellsX) * cellsY);
        colours.clear();
        lasting.clear();
        for (std::size_t i = 0; i < scene->materials.size(); ++i) {
            colours.push_back(ownColour(scene->materials[i]));
            lasting.push_back(mostBefore(scene->materials[i], scene->layers.empty() ? Layers() : scene->layers[i]));
        }
        lookedAnew = !hits.isFor(*scene, shape);
        if (lookedAnew) {
            std::swap(hits, lastHits);
            if (!hits.look(*scene, tracer, shape, stop)) {
                std::swap(hits, lastHits);
                return false;
            }
        }
        tookAlong = sameLight && !pixels.empty();
        isShown = false;
        const std::size_t count = static_cast<std::size_t>(width) * height;
        sums.resize(count);
        along.resize(count);
        if (tookAlong && lookedAnew)
            takeAlong();
        else if (tookAlong)
            along = pixels;
        pixels.resize(count);
        return true;
    }

    const Seen& at(int x, int y) const { return hits.at(x, y); }
    std::size_t index(int x, int y) const { return static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x); }
    Rgb colourOf(int x, int y) const
    {
        const Seen& seen = at(x, y);
        if (seen.surface == 0)
            return {1, 1, 1};
        if (!hits.patterned.empty()) {
            Material material = scene->materials[static_cast<std::size_t>(seen.material)];
            material.baseColour = hits.patterned[index(x, y)];
            return ownColour(material);
        }
        const Rgb own = colours[static_cast<std::size_t>(seen.material)];
        return seen.blend > 0 ? lerp(own, colours[static_cast<std::size_t>(seen.materialTo)], seen.blend) : own;
    }

    float worthOf(int x, int y) const
    {
        return hits.patterned.empty() ? 1 : std::clamp(5 * luminance(hits.patterned[index(x, y)]), 0.01f, 1.0f);
    }

    // --- light of the last draft
    void takeAlong()
    {
        base::parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
            const FlushToZero mode;
            for (int x = 0; x < width; x += kLanes)
                takeAlong(x, static_cast<int>(row));
        });
    }
    void takeAlong(int x, int y)
    {
        const Camera& from = lastHits.camera();
        const FilmShape& f = lastHits.shape();
        MiddleRays rays;
        Wide depth = 0;
        for (int i = 0; i < std::min(kLanes, width - x); ++i) {
            depth.v[i] = at(x + i, y).depth;
            rays.add(x + i, y);
        }
        rays.aim(shape, scene->camera);
        // Where these surfaces were, and how far away.
        const V3<Wide> there = rays.origins + rays.directions * depth - spread<Wide>(toFloat(from.eye));
        const Wide ahead = dot(there, spread<Wide>(toFloat(from.forward)));
        const Wide scale = from.perspective ? Wide(static_cast<float>(from.frameDistance)) / ahead : Wide(1);
        const Wide far = from.perspective ? length(there) : ahead;
        const Wide u = dot(there, spread<Wide>(toFloat(from.right))) * scale * static_cast<float>(f.width / from.frameWidth) +
                       0.5f * static_cast<float>(f.width) - static_cast<float>(f.regionX) - 0.5f;
        const Wide v = 0.5f * static_cast<float>(f.height) -
                       dot(there, spread<Wide>(toFloat(from.up))) * scale * static_cast<float>(f.height / from.frameHeight) -
                       static_cast<float>(f.regionY) - 0.5f;
        for (int i = 0; i < rays.count; ++i)
            along[index(x + i, y)] = at(x + i, y).surface != 0 && ahead.v[i] > 0 ? around(at(x + i, y), u.v[i], v.v[i], far.v[i]) : Pixel{};
    }
    // Light of the four pixels round a place of the last draft, as far as they show this surface.
    Pixel around(const Seen& seen, float u, float v, float depth) const
    {
        const FilmShape& f = lastHits.shape();
        if (!(u > -1 && v > -1 && u < static_cast<float>(f.regionWidth) && v < static_cast<float>(f.regionHeight)))
            return {};
        const float floorU = std::floor(u), floorV = std::floor(v);
        const int left = static_cast<int>(floorU), up = static_cast<int>(floorV);
        Pixel sum;
        float total = 0;
        for (int j = 0; j < 2; ++j)
            for (int i = 0; i < 2; ++i) {
                const int px = left + i, py = up + j;
                if (px < 0 || py < 0 || px >= f.regionWidth || py >= f.regionHeight)
                    continue;
                const Pixel& one = pixels[static_cast<std::size_t>(py) * f.regionWidth + px];
                if (one.passes <= 0)
                    continue;
                const float share = (i ? u - floorU : 1 - u + floorU) * (j ? v - floorV : 1 - v + floorV);
                if (!isSame(seen, depth, lastHits.at(px, py)))
                    continue;
                total += share;
                sum.light += one.light * share;
                sum.alpha += one.alpha * share;
                sum.passes += one.passes * share;
            }
        if (total < kLeastAlike)
            return {};
        const float most = lasting[static_cast<std::size_t>(seen.material)];
        return {sum.light * (1 / total), sum.alpha / total, std::min(most, sum.passes / total) * std::min(1.0f, 2 * total)};
    }

    // --- passes
    struct Place {
        int x = 0, y = 0;
    };
    // Mixed light and coverage of a path through the middle of each pixel.
    template <class Take>
    void trace(const std::vector<Place>& places, std::uint32_t sample, PathBatch& batch, Take take) const
    {
        for (std::size_t from = 0; from < places.size(); from += PathBatch::kSize) {
            const std::size_t end = std::min(places.size(), from + PathBatch::kSize);
            batch.clear();
            for (std::size_t first = from; first < end; first += kLanes) {
                MiddleRays rays;
                for (std::size_t i = first; i < std::min<std::size_t>(end, first + kLanes); ++i)
                    rays.add(places[i].x, places[i].y);
                rays.aim(shape, scene->camera);
                batch.add(rays.origins, rays.directions, SamplerOf<Wide>(rays.x, rays.y, BitLanes{} + sample, seed), rays.count);
            }
            integrator->trace(batch);
            for (std::size_t i = from; i < end; ++i) {
                const int path = static_cast<int>(i - from);
                const Rgb own = colourOf(places[i].x, places[i].y), light = atMost(mix(batch.light(path)));
                take(i, Rgb{light.x / own.x, light.y / own.y, light.z / own.z}, batch.guides(path).alpha);
            }
        }
    }
    // A path for every cell of a row, through another pixel in every pass.
    void traceCells(int j, PathBatch& batch)
    {
        const std::uint32_t number = drawn + static_cast<std::uint32_t>(passes);
        const std::size_t row = static_cast<std::size_t>(j) * cellsX;
        std::vector<Place> places;
        for (int i = 0; i < cellsX; ++i) {
            const auto cell = static_cast<std::uint32_t>(row + static_cast<std::size_t>(i) + cells.size() * number);
            const std::uint32_t hash = mixBits(cell * 2654435761u + seed);
            places.push_back({std::min(width - 1, i * kStep + static_cast<int>(hash % kStep)),
                              std::min(height - 1, j * kStep + static_cast<int>(hash / kStep % kStep))});
        }
        trace(places, number, batch, [&](std::size_t i, Rgb light, float alpha) {
            const auto [x, y] = places[i];
            cells[row + i] = {static_cast<float>(x), static_cast<float>(y), at(x, y), alpha, light, worthOf(x, y)};
        });
    }
    // What one path has found and those round it have not is shared among them: it would stand as a block. What mirrors show themselves
    // stays.
    void shareSpecks()
    {
        struct Speck {
            int i, j;
            float share;  // of its light
        };
        std::vector<std::vector<Speck>> specks(static_cast<std::size_t>(cellsY));
        base::parallelFor(specks.size(), [&](std::size_t row) {
            const int j = static_cast<int>(row);
            for (int i = 0; i < cellsX; ++i) {
                const Cell& cell = cells[cellIndex(i, j)];
                const float light = luminance(cell.light);
                if (cell.seen.surface == 0 || light < kLeastSpeck ||
                    scene->materials[static_cast<std::size_t>(cell.seen.material)].metallic > 0.5f)
                    continue;
                // The brightest round it, the least of them first: what is more than a path is seen by as many.
                std::array<float, kSpeckMates> brightest{};
                forCellsRound(i, j, [&](const Cell& other) {
                    if (&other == &cell || luminance(other.light) <= brightest[0])
                        return;
                    brightest[0] = luminance(other.light);
                    std::ranges::sort(brightest);
                });
                const float most = kSpeck * brightest[0] + kLeastSpeck;
                if (light > most)
                    specks[row].push_back({i, j, 1 - most / light});
            }
        });
        for (const std::vector<Speck>& some : specks)
            for (const Speck& speck : some) {
                Rgb& light = cells[cellIndex(speck.i, speck.j)].light;
                const Rgb given = light * speck.share;
                light = light - given;
                int count = 0;
                forCellsRound(speck.i, speck.j, [&](const Cell&) { ++count; });
                forCellsRound(speck.i, speck.j, [&](Cell& other) { other.light += given * (1.0f / static_cast<float>(count)); });
            }
    }
    // Cells that look alike share their light, as far as it differs by no more than it does all round them: on two levels (after H.
    // Dammertz and others, Edge-avoiding a-trous wavelet transform, 2010). Mirrors keep what they show.
    void calm()
    {
        std::vector<Rgb> before(cells.size());
        std::vector<float> spread(cells.size());  // of the light of one cell, squared
        const auto round = [&](int i, int j, int step, const auto& act) {
            for (int y = j - 2 * step; y <= j + 2 * step; y += step)
                for (int x = i - 2 * step; x <= i + 2 * step; x += step)
                    if (x >= 0 && y >= 0 && x < cellsX && y < cellsY)
                        act(cellIndex(x, y), (std::abs(x - i) + std::abs(y - j)) / step);
        };
        for (const int step : {1, 2}) {
            base::parallelFor(static_cast<std::size_t>(cellsY), [&](std::size_t row) {
                for (int i = 0; i < cellsX; ++i) {
                    const std::size_t own = cellIndex(i, static_cast<int>(row));
                    before[own] = cells[own].light;
                    float sum = 0, squares = 0, count = 0;
                    round(i, static_cast<int>(row), 1, [&](std::size_t other, int) {
                        if (cells[other].seen.surface != cells[own].seen.surface)
                            return;
                        const float light = luminance(cells[other].light);
                        sum += light;
                        squares += light * light;
                        count += 1;
                    });
                    spread[own] = std::max(0.0f, squares / count - sum / count * (sum / count));
                }
            });
            base::parallelFor(static_cast<std::size_t>(cellsY), [&](std::size_t row) {
                for (int i = 0; i < cellsX; ++i) {
                    const std::size_t own = cellIndex(i, static_cast<int>(row));
                    const Seen& seen = cells[own].seen;
                    if (seen.surface == 0 || lasting[static_cast<std::size_t>(seen.material)] < kMostBefore - 2)
                        continue;
                    const float light = luminance(before[own]);
                    Rgb sum;
                    float weights = 0;
                    round(i, static_cast<int>(row), step, [&](std::size_t other, int away) {
                        const float off = light - luminance(before[other]), alike = 1 - off * off / (9 * spread[own] + 1e-6f);
                        if (alike <= 0)
                            return;
                        const float weight = alike * alike * likeness(seen, cells[other].seen) * std::exp2(static_cast<float>(-away));
                        weights += weight;
                        sum += before[other] * weight;
                    });
                    if (weights > 0)
                        cells[own].light = sum * (1 / weights);
                }
            });
        }
    }
    std::size_t cellIndex(int i, int j) const
    {
        return static_cast<std::size_t>(j) * static_cast<std::size_t>(cellsX) + static_cast<std::size_t>(i);
    }
    // A cell and those of its surface round it.
    template <class Do>
    void forCellsRound(int i, int j, Do act)
    {
        const std::uint32_t surface = cells[cellIndex(i, j)].seen.surface;
        for (int y = std::max(0, j - kSpeckReach); y <= std::min(cellsY - 1, j + kSpeckReach); ++y)
            for (int x = std::max(0, i - kSpeckReach); x <= std::min(cellsX - 1, i + kSpeckReach); ++x)
                if (Cell& other = cells[cellIndex(x, y)]; other.seen.surface == surface)
                    act(other);
    }
    // Light of a pixel from the nearest cells, or from all that touch its own while it has none.
    void gather(int x, int y)
    {
        const int cx = x / kStep, cy = y / kStep;
        const int left = cx - (x % kStep < kStep / 2), up = cy - (y % kStep < kStep / 2);
        Sum& sum = sums[index(x, y)];
        if (passes == 0)
            sum = {};
        gatherFrom(left, up, left + 1, up + 1, x, y, sum);
        if (sum.weight <= 0 && (!tookAlong || along[index(x, y)].passes <= 0))
            gatherFrom(cx - 1, cy - 1, cx + 1, cy + 1, x, y, sum);
    }
    void gatherFrom(int x0, int y0, int x1, int y1, int x, int y, Sum& into) const
    {
        const Seen& own = at(x, y);
        x0 = std::max(0, x0);
        x1 = std::min(cellsX - 1, x1);
        y0 = std::max(0, y0);
        y1 = std::min(cellsY - 1, y1);
        for (int j = y0; j <= y1; ++j)
            for (int i = x0; i <= x1; ++i) {
                const Cell& cell = cells[cellIndex(i, j)];
                const float dx = cell.x - static_cast<float>(x), dy = cell.y - static_cast<float>(y);
                constexpr float kReach2 = 4.0f * kStep * kStep;
                const float near = 1 - (dx * dx + dy * dy) / kReach2;
                if (near <= 0)
                    continue;
                float weight = near * near * likeness(own, cell.seen);
                if (weight <= 1e-4f)
                    continue;
                weight *= cell.worth;
                into.weight += weight;
                into.alpha += weight * cell.alpha;
                into.light += cell.light * weight;
            }
    }

    // What a pixel shows as it stands; `passes` is 0 where nothing like it was near.
    Pixel lightOf(std::size_t pixel) const
    {
        Pixel result = tookAlong ? along[pixel] : Pixel{};
        const Sum& sum = sums[pixel];
        if (sum.weight <= 0)
            return result;
        const auto own = static_cast<float>(passes);
        const float total = own + result.passes, share = own / total;
        result.light = result.light * (1 - share) + sum.light * (share / sum.weight);
        result.alpha = result.alpha * (1 - share) + sum.alpha * (share / sum.weight);
        result.passes = total;
        return result;
    }
};

Draft::Draft() : m(std::make_unique<Inside>()) {}

Draft::~Draft() = default;

bool Draft::begin(const Scene& scene, const Tracer& tracer, const FilmShape& shape, std::uint32_t seed, MixLight mix, bool sameLight,
                  const std::stop_token& stop)
{
    m->scene = &scene;
    m->integrator.emplace(scene, tracer);
    m->shape = shape;
    m->seed = seed;
    m->mix = std::move(mix);
    return m->begin(sameLight, tracer, stop);
}

bool Draft::lookedAnew() const
{
    return m->lookedAnew;
}

bool Draft::addPass(const std::stop_token& stop)
{
    Inside& d = *m;
    base::parallelFor(static_cast<std::size_t>(d.cellsY), [&](std::size_t j) {
        if (stop.stop_requested())
            return;
        const FlushToZero mode;
        PathBatch batch(*d.scene, pixelPt(d.shape, d.scene->camera));
        d.traceCells(static_cast<int>(j), batch);
    });
    if (stop.stop_requested())
        return false;
    d.shareSpecks();
    if (d.passes < kCalmPasses)
        d.calm();
    base::parallelFor(static_cast<std::size_t>(d.height), [&](std::size_t row) {
        const FlushToZero mode;
        for (int x = 0; x < d.width; ++x)
            d.gather(x, static_cast<int>(row));
    });
    ++d.passes;
    return true;
}

DraftPicture Draft::picture(const ShowLight& show)
{
    Inside& d = *m;
    d.isShown = true;
    DraftPicture result{picture::Raster<std::uint8_t>(d.width, d.height, 3), d.hits.ids, picture::Raster<float>(d.width, d.height, 1)};
    const film::Viewpoint from = viewpointOf(d.scene->camera);
    base::parallelFor(static_cast<std::size_t>(d.height), [&](std::size_t row) {
        const FlushToZero mode;
        const int y = static_cast<int>(row);
        std::vector<Inside::Place> alone;  // nothing like them is near
        for (int x = 0; x < d.width; ++x)
            if ((d.pixels[d.index(x, y)] = d.lightOf(d.index(x, y))).passes <= 0)
                alone.push_back({x, y});
        if (!alone.empty()) {
            PathBatch batch(*d.scene, pixelPt(d.shape, d.scene->camera));
            d.trace(alone, d.drawn, batch, [&](std::size_t i, Rgb light, float alpha) {
                d.pixels[d.index(alone[i].x, y)] = {light, alpha, 1};
            });
        }
        for (int x = 0; x < d.width; ++x) {
            const Inside::Pixel& pixel = d.pixels[d.index(x, y)];
            const double u = (d.shape.regionX + x + 0.5) / d.shape.width, v = (d.shape.regionY + y + 0.5) / d.shape.height;
            if (const PixelId& id = *d.hits.ids->at(x, y); id.piece > 0 || id.part > 0)
                *result.depths.at(x, y) = from.behindAim(u, v, d.at(x, y).depth);
            const Rgb colour = show(pixel.light * d.colourOf(x, y), pixel.alpha, u, v);
            std::uint8_t* out = result.encoded.at(x, y);
            for (int c = 0; c < 3; ++c)
                out[c] = static_cast<std::uint8_t>(std::clamp(colour[c], 0.0f, 1.0f) * 255 + 0.5f);
        }
    });
    return result;
}

}  // namespace render
