// What the middle of every pixel shows, for drafts.
#pragma once

#include <algorithm>
#include <cmath>
#include <memory>
#include <stop_token>
#include <vector>

#include "film/film.h"
#include "picture/raster.h"
#include "render/camera.h"
#include "render/tracer.h"

namespace render {

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

class FirstHits {
public:
    // What a pixel's own surface is, for deciding which light it may borrow.
    struct Seen {
        Vec3f normal;
        float depth = 0;            // pt along its ray
        std::uint32_t surface = 0;  // piece and part; 0: nothing is hit
        int material = 0, materialTo = 0;
        float blend = 0;
    };

    // Looks anew; O(pixels), on all threads. Room that is there is used again, `ids` as far as nobody else holds it.
    // False when it was stopped: they are of no use then.
    bool look(const Scene& scene, const Tracer& tracer, const FilmShape& shape, const std::stop_token& stop);
    bool isFor(const Scene& scene, const FilmShape& shape) const;

    const Seen& at(int x, int y) const { return seen[static_cast<std::size_t>(y) * m_shape.regionWidth + x]; }
    const Camera& camera() const { return m_camera; }
    const FilmShape& shape() const { return m_shape; }

    std::vector<Seen> seen;      // by pixel of the region
    std::vector<Rgb> patterned;  // its base colour; empty in scenes without patterns and pictures
    std::shared_ptr<picture::Raster<PixelId>> ids;

private:
    void lookAlong(const Scene& scene, const Tracer& tracer, int y);

    std::vector<PlacedBody> m_bodies;
    Ground m_ground;
    Camera m_camera;
    double m_foldZ = 0;
    FilmShape m_shape;
    std::vector<surface::Cover> m_covers;
    std::vector<Material> m_materials;  // where there are covers
};

// Width of a picture's pixel in the plane of the camera's frame.
inline float pixelPt(const FilmShape& shape, const Camera& camera)
{
    return static_cast<float>(camera.frameWidth / shape.width);
}

// How much of another's light a pixel may take; 0 for none.
inline float likeness(const FirstHits::Seen& pixel, const FirstHits::Seen& other)
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

}  // namespace render
