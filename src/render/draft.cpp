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

bool sameLayout(const std::vector<PlacedBody>& a, const std::vector<PlacedBody>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const PlacedBody& x, const PlacedBody& y) {
        return x.body == y.body && x.pose == y.pose && x.materials == y.materials && x.letterMaterials == y.letterMaterials && x.piece == y.piece;
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
          ids(std::make_shared<picture::Raster<PixelId>>(shape.regionWidth, shape.regionHeight, 1)), m_bodies(scene.bodies),
          m_ground(scene.ground), m_camera(scene.camera), m_foldZ(scene.foldZ), m_shape(shape)
    {
        base::parallelFor(static_cast<std::size_t>(shape.regionHeight), [&](std::size_t row) {
            const FlushToZero mode;
            lookAlong(scene, tracer, static_cast<int>(row));
        });
    }
    bool isFor(const Scene& scene, const FilmShape& shape) const
    {
        return m_shape == shape && m_camera == scene.camera && m_ground == scene.ground && m_foldZ == scene.foldZ && sameLayout(m_bodies, scene.bodies);
    }

    std::vector<Seen> seen;  // by pixel
    std::shared_ptr<picture::Raster<PixelId>> ids;

private:
    // A row of the region, packet by packet.
    void lookAlong(const Scene& scene, const Tracer& tracer, int y)
    {
        constexpr int kPacket = Tracer::kPacket;
        Vec3f origins[kPacket], directions[kPacket];
        Hit hits[kPacket];
        bool met[kPacket];
        const int width = m_shape.regionWidth;
        for (int x = 0; x < width; x += kPacket) {
            const int count = std::min(kPacket, width - x);
            for (int i = 0; i < kPacket; ++i) {
                const Ray ray = cameraRay(scene.camera, (m_shape.regionX + x + std::min(i, count - 1) + 0.5) / m_shape.width,
                                          (m_shape.regionY + y + 0.5) / m_shape.height);
                origins[i] = ray.origin;
                directions[i] = ray.direction;
            }
            tracer.intersectCamera(origins, directions, hits, met);
            for (int i = 0; i < count; ++i)
                if (met[i]) {
                    const PixelId id = idOf(scene, hits[i]);
                    *ids->at(x + i, y) = id;
                    seen[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x + i)] = {
                        hits[i].shading, hits[i].distance, surfaceOf(id), hits[i].material, hits[i].materialTo, hits[i].blend};
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
        Rgb light;         // mixed, divided by the surface's own colour
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

    Inside(const Scene& s, const Tracer& t, const FilmShape& f, std::uint32_t givenSeed, MixLight givenMix, const std::shared_ptr<const FirstHits>& before)
        : scene(s), integrator(s, t), shape(f), width(f.regionWidth), height(f.regionHeight), cellsX((width + kStep - 1) / kStep),
          cellsY((height + kStep - 1) / kStep), seed(givenSeed), mix(std::move(givenMix)),
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

    // Mixed light of a path through a pixel's middle.
    Rgb trace(int x, int y, std::uint32_t sample, PathResult& path) const
    {
        std::uint64_t rays = 0;
        Sampler sampler(shape.regionX + x, shape.regionY + y, sample, seed);
        integrator.trace(cameraRay(scene.camera, (shape.regionX + x + 0.5) / shape.width, (shape.regionY + y + 0.5) / shape.height), sampler, path, rays);
        return mix(path.entries.data());
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
        PathResult path;
        for (int i = 0; i < d.cellsX; ++i) {
            const std::size_t index = first + j * static_cast<std::size_t>(d.cellsX) + static_cast<std::size_t>(i);
            // Another pixel of the cell in every pass.
            const std::uint32_t hash = mixBits(static_cast<std::uint32_t>(index) * 2654435761u + d.seed);
            Inside::Cell& cell = d.cells[index];
            cell.x = std::min(d.width - 1, i * kStep + static_cast<int>(hash % kStep));
            cell.y = std::min(d.height - 1, static_cast<int>(j) * kStep + static_cast<int>(hash / kStep % kStep));
            const Rgb light = d.trace(cell.x, cell.y, static_cast<std::uint32_t>(d.passes), path), own = d.colourOf(d.at(cell.x, cell.y));
            cell.alpha = path.guides.alpha;
            cell.light = {light.x / own.x, light.y / own.y, light.z / own.z};
        }
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
        PathResult path;
        for (int x = 0; x < d.width; ++x) {
            float alpha = 0;
            Rgb light;
            if (!d.gather(x, y, light, alpha)) {
                light = d.trace(x, y, 0, path);
                alpha = path.guides.alpha;
            }
            const Rgb colour = show(light, alpha);
            float* out = result.encoded.at(x, y);
            out[0] = colour.x;
            out[1] = colour.y;
            out[2] = colour.z;
        }
    });
    return result;
}

}  // namespace render
