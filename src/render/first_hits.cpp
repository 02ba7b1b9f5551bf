#include "render/first_hits.h"

#include <algorithm>

#include "base/parallel.h"
#include "render/flush.h"

namespace render {

namespace {

constexpr std::uint32_t kHit = 1u << 31;

std::uint32_t surfaceOf(const PixelId& id)
{
    return kHit | static_cast<std::uint32_t>(id.piece) << 8 | id.part;
}

bool sameLayout(const std::vector<PlacedBody>& a, const std::vector<PlacedBody>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const PlacedBody& x, const PlacedBody& y) {
        return x.body == y.body && x.pose == y.pose && x.materials == y.materials && x.letterMaterials == y.letterMaterials &&
               x.piece == y.piece && x.home == y.home && x.homeTurn == y.homeTurn;
    });
}

// With its picture and pattern; `pixel` is a pixel's width, in perspective at a distance of 1 pt.
Rgb baseColourAt(const Scene& scene, const Tracer& tracer, const Hits& hits, int lane, float pixel)
{
    const float blend = hits.blend[lane];
    const auto material = static_cast<std::size_t>(hits.material[lane]), to = static_cast<std::size_t>(hits.materialTo[lane]);
    const Rgb colour = lerp(scene.materials[material].baseColour, scene.materials[to].baseColour, blend);
    const surface::Cover& cover = scene.covers[blend > 0.5f ? to : material];
    if (!cover.any())
        return colour;
    const float footprint = pixel * (scene.camera.perspective ? hits.distance[lane] : 1);
    const Cloth cloth = tracer.clothAt(hits, lane, laneOf(hits.shading, lane), footprint);
    surface::Look look{colour, 0, 0, 0, {}};
    if (cover.pictures.colour)
        surface::lay(cover.pictures, tracer.sheetAt(hits, lane, cloth, cover.pictures.lies), look);
    if (cover.pattern.kind != surface::PatternKind::None)
        look = surface::patterned(cover.pattern, look, cloth.place);
    return look.colour;
}

}  // namespace

bool FirstHits::look(const Scene& scene, const Tracer& tracer, const FilmShape& shape, const std::stop_token& stop)
{
    m_bodies = scene.bodies;
    m_ground = scene.ground;
    m_camera = scene.camera;
    m_foldZ = scene.foldZ;
    m_shape = shape;
    m_covers = scene.covers;
    m_materials = scene.covers.empty() ? std::vector<Material>() : scene.materials;
    patterned.resize(scene.covers.empty() ? 0 : static_cast<std::size_t>(shape.regionWidth) * shape.regionHeight);
    seen.resize(static_cast<std::size_t>(shape.regionWidth) * shape.regionHeight);
    if (!ids || ids.use_count() > 1 || ids->width != shape.regionWidth || ids->height != shape.regionHeight)
        ids = std::make_shared<picture::Raster<PixelId>>(shape.regionWidth, shape.regionHeight, 1);
    base::parallelFor(static_cast<std::size_t>(shape.regionHeight), [&](std::size_t row) {
        const FlushToZero mode;
        if (!stop.stop_requested())
            lookAlong(scene, tracer, static_cast<int>(row));
    });
    return !stop.stop_requested();
}

bool FirstHits::isFor(const Scene& scene, const FilmShape& shape) const
{
    return m_shape == shape && m_camera == scene.camera && m_ground == scene.ground && m_foldZ == scene.foldZ &&
           sameLayout(m_bodies, scene.bodies) && m_covers == scene.covers && (m_covers.empty() || m_materials == scene.materials);
}

// A row of the region, packet by packet.
void FirstHits::lookAlong(const Scene& scene, const Tracer& tracer, int y)
{
    const int width = m_shape.regionWidth;
    const float pixel = pixelPt(m_shape, scene.camera) / (scene.camera.perspective ? static_cast<float>(scene.camera.frameDistance) : 1);
    for (int x = 0; x < width; x += kLanes) {
        const int count = std::min(kLanes, width - x);
        MiddleRays rays;
        for (int i = 0; i < count; ++i)
            rays.add(x + i, y);
        rays.aim(m_shape, scene.camera);
        Hits hits;
        Mask found;
        tracer.intersect(rays.origins, rays.directions, Mask::firstOf(count), true, hits, found);
        for (int i = 0; i < count; ++i) {
            const PixelId id = found[i] ? idOf(scene, hits, i) : PixelId();
            *ids->at(x + i, y) = id;
            seen[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x + i)] =
                found[i]
                    ? Seen{laneOf(hits.shading, i), hits.distance[i], surfaceOf(id), hits.material[i], hits.materialTo[i], hits.blend[i]}
                    : Seen{};
            if (!patterned.empty())
                patterned[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x + i)] =
                    found[i] ? baseColourAt(scene, tracer, hits, i, pixel) : Rgb{1, 1, 1};
        }
    }
}

}  // namespace render
