// The first picture of a scene: what is seen is traced for every pixel, light only for every few.
//
// Light is divided by the surface's own colour, spread among neighbours that look alike (same piece and part, like normals, near
// in depth) and multiplied again, as in J. Kopf and others, Joint Bilateral Upsampling, 2007. Pixels without a like neighbour get
// a path of their own. Edges, letters and colours are exact; shadows and reflections are coarse and sharpen with passes.
// In the first of them cells share their light as far as they are alike, and what only one path has found.
// Light that the last draft found is taken along to where its surface is seen now, and counts as some passes more (D. Nehab and
// others, Accelerating Real-Time Shading with Reverse Reprojection Caching, 2007): walking round, shading stays as calm as at rest.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>

#include "film/film.h"
#include "picture/raster.h"
#include "render/render.h"
#include "render/tracer.h"

namespace render {

struct DraftPicture {
    picture::Raster<std::uint8_t> encoded;                // three channels
    std::shared_ptr<const picture::Raster<PixelId>> ids;  // what each pixel's middle shows
    picture::Raster<float> depths;                        // and how deep that lies, as film::RankedIds says; 0 for nothing
};

// From the lights' entries of a pixel to its linear light, and from light and coverage to what is shown, encoded.
using MixLight = std::function<Rgb(const Rgb* entries)>;
using ShowLight = std::function<Rgb(Rgb light, float alpha, double u, double v)>;

// One after the other: what of the last draft serves is taken over by itself, and so is its memory (some 150 bytes a pixel).
class Draft {
public:
    static constexpr int kStep = 4;  // px between paths, each way

    Draft();
    ~Draft();
    Draft(const Draft&) = delete;
    Draft& operator=(const Draft&) = delete;

    // Begins a picture of the shape's region. First hits are traced anew, O(pixels), unless bodies, view and size are the last
    // draft's. `sameLight`: lights, materials, ground and desk are the last draft's, so that its light is taken along. `scene` and
    // `tracer` must outlive the calls of this picture. False when it was stopped (within a few ms): there is no picture to add to then.
    bool begin(const Scene& scene, const Tracer& tracer, const FilmShape& shape, std::uint32_t seed, MixLight mix, bool sameLight,
               const std::stop_token& stop = {});
    // One more path for every cell of kStep x kStep pixels, and what of it each pixel may take. O(pixels). False when it was stopped
    // (within a few ms); the pass is not counted then.
    bool addPass(const std::stop_token& stop = {});
    // The picture so far. O(pixels).
    DraftPicture picture(const ShowLight& show);
    // Whether the last begin() traced first hits.
    bool lookedAnew() const;

private:
    struct Inside;
    std::unique_ptr<Inside> m;
};

}  // namespace render
