// Light that is kept, in bands from the top: of a film, of a kept picture, of a large picture's folder.
#pragma once

#include <functional>
#include <memory>

#include "files/light_file.h"

namespace files {

struct LightSource {
    film::FilmShape shape;
    int bands = 0;
    std::function<base::Result<film::LightShares>(int band)> get;
};
LightSource sourceOf(std::shared_ptr<const LightFile> light);
LightSource sourceOf(std::shared_ptr<const film::LightShares> shares);

// Rows y0 to before y1 of the whole picture, as shares of their own.
film::LightShares rowsOf(const film::LightShares& shares, int y0, int y1);

// At a size for the screen, every `step` px, as film::smaller. Errors: those of the source.
base::Result<film::LightShares> smallerLight(const LightSource& light, int step);

}  // namespace files
