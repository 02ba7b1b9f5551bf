// A work becomes a still: the main flow, a line per stage. The window and the command line both come through here.
#pragma once

#include "finish/develop.h"
#include "render/render.h"
#include "work/bodies.h"
#include "work/scene.h"

namespace work {

struct StillSettings {
    int widthPx = 0, heightPx = 0;  // 0: the sheet's own
    bool hasRegion = false;
    film::Film::Rect region{};  // px; when hasRegion
    render::StopRule stop;
    std::uint32_t seed = 0;
    std::uint32_t firstSample = 0;  // even: films of one exposure that begin elsewhere can be merged
    bool transparent = false;
    std::string filmPath;            // keep the film in this file and go on from it; empty: in memory
    std::string filmKey;             // names work and settings for the film file
    std::uint64_t memoryBudget = 0;  // bytes for all of it; 0: what the machine can give
    denoise::Mode denoise = denoise::Mode::Full;
    bool develop = true;                                      // false: no picture, only its light
    bool developStopped = true;                               // false: a render that was stopped has no picture, only its film
    std::function<void(const render::RoundStatus&)> onRound;  // after every round, on the calling thread
};

struct Still {
    std::unique_ptr<film::Film> film;
    film::LightShares shares;  // of the region, cleaned as wished
    finish::DevelopSettings develop;
    picture::Raster<float> picture;  // encoded sRGB of the region, 3 or 4 channels
    render::RenderReport report;
    base::Notes notes;
};

// Errors: BadInput (size, region, pieces), TooLarge with the number of bytes when film and picture cannot fit into memory,
// Stopped when nothing was rendered yet.
base::Result<Still> makeStill(const Work& work, const StillSettings& settings, Cache& cache, const base::Progress& progress);

// A still from a film file that is there, as far as it is exposed; of the settings it takes filmPath, filmKey, denoise and transparent.
// Errors: BadInput when the file is no film of this key, CannotRead, Stopped.
base::Result<Still> developFilm(const Work& work, const StillSettings& settings, const base::Progress& progress);

// The film's shape for a work at a size. Errors: BadInput.
base::Result<film::FilmShape> filmShapeFor(const render::Scene& scene, const Sheet& sheet, const StillSettings& settings);

// Bytes a render of that shape takes at its peak (film, picture, passes on export), and bytes this machine can give.
std::uint64_t bytesNeeded(const film::FilmShape& shape, const WorkBodies& bodies);
std::uint64_t bytesAvailable();

}  // namespace work
