#include "render/draft.h"

#include <cmath>

#include "base/parallel.h"
#include "render/camera.h"
#include "render/flush.h"
#include "render/integrator.h"

namespace render {

namespace {

constexpr float kSmallestColour = 0.02f;  // surfaces darker than this are not divided by their colour

// What a pixel's own surface is, for deciding which light it may borrow.
struct Seen {
    Vec3f normal;
    float depth = 0;
    Rgb colour{1, 1, 1};
    PixelId id;
    bool hit = false;
};

struct Cell {
    int x = 0, y = 0;     // the pixel its path went through
    float alpha = 0;
    Seen seen;
};

Rgb ownColour(const Material& m)
{
    const float layer = 0.04f * m.specular * (1 - m.metallic);
    const auto channel = [&](float c) { return std::max(kSmallestColour, c + layer); };
    return {channel(m.baseColour.x), channel(m.baseColour.y), channel(m.baseColour.z)};
}

Rgb ownColour(const Scene& scene, const Hit& hit)
{
    const Rgb own = ownColour(scene.materials[static_cast<std::size_t>(hit.material)]);
    return hit.blend > 0 ? lerp(own, ownColour(scene.materials[static_cast<std::size_t>(hit.materialTo)]), hit.blend) : own;
}

}  // namespace

struct Draft::Inside {
    const Scene& scene;
    const Tracer& tracer;
    Integrator integrator;
    FilmShape shape;
    int width, height, cellsX, cellsY, passes = 0;
    std::uint32_t seed;
    std::size_t entries;
    std::vector<Seen> seen;             // by pixel
    std::vector<Cell> cells;            // of all passes, pass after pass
    std::vector<Rgb> light;             // entries of every cell
    picture::Raster<PixelId> ids;

    Inside(const Scene& s, const Tracer& t, const FilmShape& f, std::uint32_t givenSeed)
        : scene(s), tracer(t), integrator(s, t), shape(f), width(f.regionWidth), height(f.regionHeight), cellsX((width + kStep - 1) / kStep),
          cellsY((height + kStep - 1) / kStep), seed(givenSeed), entries(s.entries.size()), seen(static_cast<std::size_t>(width) * height),
          ids(width, height, 1)
    {
    }

    Ray rayThrough(int x, int y) const
    {
        return cameraRay(scene.camera, (shape.regionX + x + 0.5) / shape.width, (shape.regionY + y + 0.5) / shape.height);
    }
    const Seen& at(int x, int y) const { return seen[static_cast<std::size_t>(y) * width + x]; }

    // First hits of a row of the region, packet by packet.
    void lookAlong(int y)
    {
        constexpr int kPacket = Tracer::kPacket;
        Vec3f origins[kPacket], directions[kPacket];
        Hit hits[kPacket];
        bool met[kPacket];
        for (int x = 0; x < width; x += kPacket) {
            const int count = std::min(kPacket, width - x);
            for (int i = 0; i < kPacket; ++i) {
                const Ray ray = rayThrough(x + std::min(i, count - 1), y);
                origins[i] = ray.origin;
                directions[i] = ray.direction;
            }
            tracer.intersectCamera(origins, directions, hits, met);
            for (int i = 0; i < count; ++i)
                if (met[i]) {
                    Seen& s = seen[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x + i)];
                    s = {hits[i].shading, hits[i].distance, ownColour(scene, hits[i]), idOf(scene, hits[i]), true};
                    *ids.at(x + i, y) = s.id;
                }
        }
    }

    // How much of a cell's light a pixel may take; 0 for none.
    float likeness(const Seen& pixel, const Seen& other) const
    {
        if (pixel.hit != other.hit || pixel.id.piece != other.id.piece || pixel.id.part != other.id.part)
            return 0;
        if (!pixel.hit)
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
    bool gather(int x, int y, std::vector<Rgb>& into, float& alpha) const
    {
        const int cx = x / kStep, cy = y / kStep;
        const int left = cx - (x % kStep < kStep / 2), up = cy - (y % kStep < kStep / 2);
        return gatherFrom(left, up, left + 1, up + 1, x, y, into, alpha) || gatherFrom(cx - 1, cy - 1, cx + 1, cy + 1, x, y, into, alpha);
    }
    bool gatherFrom(int x0, int y0, int x1, int y1, int x, int y, std::vector<Rgb>& into, float& alpha) const
    {
        const Seen& own = at(x, y);
        std::fill(into.begin(), into.end(), Rgb{});
        alpha = 0;
        float total = 0;
        for (int pass = 0; pass < passes; ++pass)
            for (int j = std::max(0, y0); j <= std::min(cellsY - 1, y1); ++j)
                for (int i = std::max(0, x0); i <= std::min(cellsX - 1, x1); ++i) {
                    const std::size_t index = (static_cast<std::size_t>(pass) * cellsY + j) * cellsX + i;
                    const Cell& cell = cells[index];
                    const auto dx = static_cast<float>(cell.x - x), dy = static_cast<float>(cell.y - y);
                    constexpr float kReach2 = 4.0f * kStep * kStep;
                    const float near = 1 - (dx * dx + dy * dy) / kReach2;
                    if (near <= 0)
                        continue;
                    const float weight = near * near * likeness(own, cell.seen);
                    if (weight <= 1e-4f)
                        continue;
                    total += weight;
                    alpha += weight * cell.alpha;
                    for (std::size_t e = 0; e < entries; ++e)
                        into[e] += light[index * entries + e] * weight;
                }
        if (total <= 0)
            return false;
        for (Rgb& c : into)
            c = c * own.colour * (1 / total);
        alpha /= total;
        return true;
    }

    void trace(int x, int y, std::uint32_t sample, PathResult& path) const
    {
        std::uint64_t rays = 0;
        Sampler sampler(shape.regionX + x, shape.regionY + y, sample, seed);
        integrator.trace(rayThrough(x, y), sampler, path, rays);
    }
};

Draft::Draft(const Scene& scene, const Tracer& tracer, const FilmShape& shape, std::uint32_t seed)
    : m(std::make_unique<Inside>(scene, tracer, shape, seed))
{
    base::parallelFor(static_cast<std::size_t>(m->height), [&](std::size_t row) {
        const FlushToZero mode;
        m->lookAlong(static_cast<int>(row));
    });
}

Draft::~Draft() = default;

int Draft::passes() const
{
    return m->passes;
}

void Draft::addPass()
{
    Inside& d = *m;
    const std::size_t count = static_cast<std::size_t>(d.cellsX) * d.cellsY, first = d.cells.size();
    d.cells.resize(first + count);
    d.light.resize((first + count) * d.entries);
    base::parallelFor(static_cast<std::size_t>(d.cellsY), [&](std::size_t j) {
        const FlushToZero mode;
        PathResult path;
        for (int i = 0; i < d.cellsX; ++i) {
            const std::size_t index = first + j * static_cast<std::size_t>(d.cellsX) + static_cast<std::size_t>(i);
            // Another pixel of the cell in every pass.
            const std::uint32_t hash = mixBits(static_cast<std::uint32_t>(index) * 2654435761u + d.seed);
            Cell& cell = d.cells[index];
            cell.x = std::min(d.width - 1, i * kStep + static_cast<int>(hash % kStep));
            cell.y = std::min(d.height - 1, static_cast<int>(j) * kStep + static_cast<int>(hash / kStep % kStep));
            d.trace(cell.x, cell.y, static_cast<std::uint32_t>(d.passes), path);
            cell.alpha = path.alpha;
            cell.seen = d.at(cell.x, cell.y);
            const Rgb colour = cell.seen.colour;
            for (std::size_t e = 0; e < d.entries; ++e) {
                const Rgb l = path.entries[e];
                d.light[index * d.entries + e] = {l.x / colour.x, l.y / colour.y, l.z / colour.z};
            }
        }
    });
    ++d.passes;
}

DraftPicture Draft::picture(const Display& display) const
{
    const Inside& d = *m;
    DraftPicture result{picture::Raster<float>(d.width, d.height, 3), d.ids};
    base::parallelFor(static_cast<std::size_t>(d.height), [&](std::size_t row) {
        const FlushToZero mode;
        const int y = static_cast<int>(row);
        std::vector<Rgb> entries(d.entries);
        PathResult path;
        for (int x = 0; x < d.width; ++x) {
            float alpha = 0;
            Rgb colour;
            if (d.gather(x, y, entries, alpha)) {
                colour = display(entries.data(), alpha);
            } else {
                d.trace(x, y, 0, path);
                colour = display(path.entries.data(), path.alpha);
            }
            float* out = result.encoded.at(x, y);
            out[0] = colour.x;
            out[1] = colour.y;
            out[2] = colour.z;
        }
    });
    return result;
}

}  // namespace render
