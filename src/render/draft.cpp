#include "render/draft.h"

#include <cmath>

#include "base/parallel.h"
#include "render/camera.h"
#include "render/flush.h"
#include "render/integrator.h"

namespace render {

namespace {

constexpr float kSmallestColour = 0.02f;  // surfaces darker than this are not divided by their colour

constexpr std::uint64_t kHit = 1ull << 63;

std::uint64_t surfaceOf(const PixelId& id)
{
    return kHit | static_cast<std::uint64_t>(id.piece) << 16 | id.part;
}

Rgb ownColour(const Material& m)
{
    const float layer = 0.04f * m.specular * (1 - m.metallic);
    const auto channel = [&](float c) { return std::max(kSmallestColour, c + layer); };
    return {channel(m.baseColour.x), channel(m.baseColour.y), channel(m.baseColour.z)};
}

// Rays through the middles of pixels, side by side.
struct MiddleRays {
    BitLanes x{}, y{};  // px of the region, then of the picture
    int count = 0;
    V3<Wide> origins, directions;

    void add(int atX, int atY)
    {
        x[count] = static_cast<std::uint32_t>(atX);
        y[count++] = static_cast<std::uint32_t>(atY);
    }
    void aim(const FilmShape& shape, const Camera& camera)
    {
        x += static_cast<std::uint32_t>(shape.regionX);
        y += static_cast<std::uint32_t>(shape.regionY);
        cameraRays(camera, shape.width, shape.height, asFloat(x) + 0.5f, asFloat(y) + 0.5f, origins, directions);
    }
};

bool sameLayout(const std::vector<PlacedBody>& a, const std::vector<PlacedBody>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const PlacedBody& x, const PlacedBody& y) {
        return x.body == y.body && x.pose == y.pose && x.materials == y.materials && x.letterMaterials == y.letterMaterials &&
               x.piece == y.piece;
    });
}

}  // namespace

class FirstHits {
public:
    // What a pixel's own surface is, for deciding which light it may borrow.
    struct Seen {
        Vec3f normal;
        float depth = 0;
        std::uint64_t surface = 0;  // piece and part; 0: nothing is hit
        int material = 0, materialTo = 0;
        float blend = 0;
    };

    FirstHits(const Scene& scene, const Tracer& tracer, const FilmShape& shape)
        : seen(static_cast<std::size_t>(shape.regionWidth) * shape.regionHeight),
          ids(std::make_shared<picture::Raster<PixelId>>(shape.regionWidth, shape.regionHeight, 1)),
          m_bodies(scene.bodies),
          m_ground(scene.ground),
          m_camera(scene.camera),
          m_foldZ(scene.foldZ),
          m_shape(shape)
    {
        base::parallelFor(static_cast<std::size_t>(shape.regionHeight), [&](std::size_t row) {
            const FlushToZero mode;
            lookAlong(scene, tracer, static_cast<int>(row));
        });
    }
    bool isFor(const Scene& scene, const FilmShape& shape) const
    {
        return m_shape == shape && m_camera == scene.camera && m_ground == scene.ground && m_foldZ == scene.foldZ &&
               sameLayout(m_bodies, scene.bodies);
    }

    std::vector<Seen> seen;  // by pixel
    std::shared_ptr<picture::Raster<PixelId>> ids;

private:
    // A row of the region, packet by packet.
    void lookAlong(const Scene& scene, const Tracer& tracer, int y)
    {
        const int width = m_shape.regionWidth;
        for (int x = 0; x < width; x += kLanes) {
            const int count = std::min(kLanes, width - x);
            MiddleRays rays;
            for (int i = 0; i < count; ++i)
                rays.add(x + i, y);
            rays.aim(m_shape, scene.camera);
            Hits hits;
            Mask found;
            tracer.intersect(rays.origins, rays.directions, Mask::firstOf(count), true, hits, found);
            for (int i = 0; i < count; ++i)
                if (found[i]) {
                    const PixelId id = idOf(scene, hits, i);
                    *ids->at(x + i, y) = id;
                    seen[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x + i)] = {
                        laneOf(hits.shading, i), hits.distance[i], surfaceOf(id), hits.material[i], hits.materialTo[i], hits.blend[i]};
                }
        }
    }

    std::vector<PlacedBody> m_bodies;
    Ground m_ground;
    Camera m_camera;
    double m_foldZ;
    FilmShape m_shape;
};

struct Draft::Inside {
    using Seen = FirstHits::Seen;
    struct Cell {
        int x = 0, y = 0;  // the pixel its path went through
        float alpha = 0;
        Rgb light;  // mixed, divided by the surface's own colour
    };

    const Scene& scene;
    Integrator integrator;
    FilmShape shape;
    int width, height, cellsX, cellsY, passes = 0;
    std::uint32_t seed;
    MixLight mix;
    std::shared_ptr<const FirstHits> hits;
    std::vector<Rgb> colours;  // own colour of each material
    std::vector<Cell> cells;   // of all passes, pass after pass

    Inside(const Scene& s, const Tracer& t, const FilmShape& f, std::uint32_t givenSeed, MixLight givenMix,
           const std::shared_ptr<const FirstHits>& before)
        : scene(s),
          integrator(s, t),
          shape(f),
          width(f.regionWidth),
          height(f.regionHeight),
          cellsX((width + kStep - 1) / kStep),
          cellsY((height + kStep - 1) / kStep),
          seed(givenSeed),
          mix(std::move(givenMix)),
          hits(before && before->isFor(s, f) ? before : std::make_shared<const FirstHits>(s, t, f))
    {
        for (const Material& m : s.materials)
            colours.push_back(ownColour(m));
    }

    const Seen& at(int x, int y) const { return hits->seen[static_cast<std::size_t>(y) * width + x]; }
    Rgb colourOf(const Seen& seen) const
    {
        if (seen.surface == 0)
            return {1, 1, 1};
        const Rgb own = colours[static_cast<std::size_t>(seen.material)];
        return seen.blend > 0 ? lerp(own, colours[static_cast<std::size_t>(seen.materialTo)], seen.blend) : own;
    }

    // How much of a cell's light a pixel may take; 0 for none.
    static float likeness(const Seen& pixel, const Seen& other)
    {
        if (pixel.surface != other.surface)
            return 0;
        if (pixel.surface == 0)
            return 1;
        const float cosine = dot(pixel.normal, other.normal);
        if (cosine < 0.5f)
            return 0;
        float c = cosine * cosine;
        c *= c;
        c *= c;
        const float apart = std::abs(pixel.depth - other.depth) / (0.02f * std::max(pixel.depth, other.depth) + 1e-3f);
        return c * c / (1 + apart * apart);
    }

    // Light of a pixel from the nearest cells, or from all that touch its own; false when none is like it.
    bool gather(int x, int y, Rgb& into, float& alpha) const
    {
        const int cx = x / kStep, cy = y / kStep;
        const int left = cx - (x % kStep < kStep / 2), up = cy - (y % kStep < kStep / 2);
        return gatherFrom(left, up, left + 1, up + 1, x, y, into, alpha) || gatherFrom(cx - 1, cy - 1, cx + 1, cy + 1, x, y, into, alpha);
    }
    bool gatherFrom(int x0, int y0, int x1, int y1, int x, int y, Rgb& into, float& alpha) const
    {
        const Seen& own = at(x, y);
        into = {};
        alpha = 0;
        float total = 0;
        x0 = std::max(0, x0);
        x1 = std::min(cellsX - 1, x1);
        y0 = std::max(0, y0);
        y1 = std::min(cellsY - 1, y1);
        for (int pass = 0; pass < passes; ++pass)
            for (int j = y0; j <= y1; ++j)
                for (int i = x0; i <= x1; ++i) {
                    const Cell& cell = cells[(static_cast<std::size_t>(pass) * cellsY + j) * cellsX + i];
                    const auto dx = static_cast<float>(cell.x - x), dy = static_cast<float>(cell.y - y);
                    constexpr float kReach2 = 4.0f * kStep * kStep;
                    const float near = 1 - (dx * dx + dy * dy) / kReach2;
                    if (near <= 0)
                        continue;
                    const float weight = near * near * likeness(own, at(cell.x, cell.y));
                    if (weight <= 1e-4f)
                        continue;
                    total += weight;
                    alpha += weight * cell.alpha;
                    into += cell.light * weight;
                }
        if (total <= 0)
            return false;
        into = into * colourOf(own) * (1 / total);
        alpha /= total;
        return true;
    }

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
                rays.aim(shape, scene.camera);
                batch.add(rays.origins, rays.directions, SamplerOf<Wide>(rays.x, rays.y, BitLanes{} + sample, seed), rays.count);
            }
            integrator.trace(batch);
            for (std::size_t i = from; i < end; ++i) {
                const int path = static_cast<int>(i - from);
                take(i, mix(batch.light(path)), batch.guides(path).alpha);
            }
        }
    }
};

Draft::Draft(const Scene& scene, const Tracer& tracer, const FilmShape& shape, std::uint32_t seed, MixLight mix,
             const std::shared_ptr<const FirstHits>& before)
    : m(std::make_unique<Inside>(scene, tracer, shape, seed, std::move(mix), before))
{
}

Draft::~Draft() = default;

int Draft::passes() const
{
    return m->passes;
}

std::shared_ptr<const FirstHits> Draft::firstHits() const
{
    return m->hits;
}

void Draft::addPass()
{
    Inside& d = *m;
    const std::size_t count = static_cast<std::size_t>(d.cellsX) * d.cellsY, first = d.cells.size();
    d.cells.resize(first + count);
    base::parallelFor(static_cast<std::size_t>(d.cellsY), [&](std::size_t j) {
        const FlushToZero mode;
        const std::size_t row = first + j * static_cast<std::size_t>(d.cellsX);
        std::vector<Inside::Place> places;
        for (int i = 0; i < d.cellsX; ++i) {
            // Another pixel of the cell in every pass.
            const std::uint32_t hash = mixBits((static_cast<std::uint32_t>(row) + static_cast<std::uint32_t>(i)) * 2654435761u + d.seed);
            places.push_back({std::min(d.width - 1, i * kStep + static_cast<int>(hash % kStep)),
                              std::min(d.height - 1, static_cast<int>(j) * kStep + static_cast<int>(hash / kStep % kStep))});
        }
        PathBatch batch(d.scene);
        d.trace(places, static_cast<std::uint32_t>(d.passes), batch, [&](std::size_t i, Rgb light, float alpha) {
            const auto [x, y] = places[i];
            const Rgb own = d.colourOf(d.at(x, y));
            d.cells[row + i] = {x, y, alpha, {light.x / own.x, light.y / own.y, light.z / own.z}};
        });
    });
    ++d.passes;
}

DraftPicture Draft::picture(const ShowLight& show) const
{
    const Inside& d = *m;
    DraftPicture result{picture::Raster<float>(d.width, d.height, 3), d.hits->ids};
    base::parallelFor(static_cast<std::size_t>(d.height), [&](std::size_t row) {
        const FlushToZero mode;
        const int y = static_cast<int>(row);
        const auto put = [&](int x, Rgb light, float alpha) {
            const Rgb colour = show(light, alpha);
            float* out = result.encoded.at(x, y);
            out[0] = colour.x;
            out[1] = colour.y;
            out[2] = colour.z;
        };
        std::vector<Inside::Place> alone;  // nothing like them is near
        for (int x = 0; x < d.width; ++x) {
            float alpha = 0;
            Rgb light;
            if (d.gather(x, y, light, alpha))
                put(x, light, alpha);
            else
                alone.push_back({x, y});
        }
        if (alone.empty())
            return;
        PathBatch batch(d.scene);
        d.trace(alone, 0, batch, [&](std::size_t i, Rgb light, float alpha) { put(alone[i].x, light, alpha); });
    });
    return result;
}

}  // namespace render
