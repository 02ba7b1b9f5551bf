// The first picture of a scene: what is seen is traced for every pixel, light only for every few.
//
// Light is divided by the surface's own colour, spread among neighbours that look alike (same piece and part, like normals, near
// in depth) and multiplied again, as in J. Kopf and others, Joint Bilateral Upsampling, 2007. Pixels without a like neighbour get
// a path of their own. Edges, letters and colours are exact; shadows and reflections are coarse and sharpen with passes.
#pragma once

#include <functional>
#include <memory>

#include "film/film.h"
#include "picture/raster.h"
#include "render/render.h"
#include "render/tracer.h"

namespace render {

struct DraftPicture {
    picture::Raster<float> encoded;                       // three channels
    std::shared_ptr<const picture::Raster<PixelId>> ids;  // what each pixel's middle shows
};

// What every pixel's middle shows. It serves again while bodies, view and size stay: when only light or colours change.
class FirstHits;

// From the lights' entries of a pixel to its linear light, and from light and coverage to what is shown, encoded.
using MixLight = std::function<Rgb(const Rgb* entries)>;
using ShowLight = std::function<Rgb(Rgb light, float alpha)>;

class Draft {
public:
    static constexpr int kStep = 4;  // px between paths, each way

    // Traces the first hits of the shape's region, O(pixels), unless `before` still holds. `scene` and `tracer` must outlive the
    // draft.
    Draft(const Scene& scene, const Tracer& tracer, const FilmShape& shape, std::uint32_t seed, MixLight mix,
          const std::shared_ptr<const FirstHits>& before = {});
    ~Draft();
    Draft(const Draft&) = delete;
    Draft& operator=(const Draft&) = delete;

    // One more path for every cell of kStep x kStep pixels. O(pixels / kStep^2).
    void addPass();
    int passes() const;
    // The picture so far. O(pixels).
    DraftPicture picture(const ShowLight& show) const;
    std::shared_ptr<const FirstHits> firstHits() const;

private:
    struct Inside;
    std::unique_ptr<Inside> m;
};

}  // namespace render
