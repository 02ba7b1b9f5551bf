// A work becomes a still: the main flow. The live picture, finals, their bands and the command line all come through prepare() and
// expose(); third and last, finish::develop() makes the picture of the shares.
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
    render::Sink sink;                                  // who is told
    bool gentle = false;                                // first rounds of one sample, for a live picture
    std::shared_ptr<const render::BodyTree> tree = {};  // of the scene's bodies, when there is one already
};

// What a still is rendered from.
struct Prepared {
    WorkBodies bodies;
    render::Scene scene;
    film::FilmShape shape;
    finish::DevelopSettings develop;
};

// First: the bodies in their scene. Errors: BadInput (size, region, pieces), TooLarge for a side, Stopped.
base::Result<Prepared> prepare(const Work& work, const StillSettings& settings, Cache& cache, const base::Progress& progress);
// The same of bodies that are there.
base::Result<Prepared> prepareWith(const Work& work, WorkBodies bodies, const StillSettings& settings);

// The film to be exposed, in memory or in its file. Errors: TooLarge with the number of bytes when film and picture cannot fit into
// memory; those of film::Film.
base::Result<std::unique_ptr<film::Film>> filmFor(const film::FilmShape& shape, const WorkBodies& bodies, const StillSettings& settings);

// Second: the film exposed and cleaned, as far as the stop rule says. Errors: Stopped when there is no first picture.
base::Result<render::RenderReport> expose(const Prepared& prepared, const StillSettings& settings, film::Film& film,
                                          const base::Progress& progress);

// Notices of the bodies and of the film.
base::Notes notesOf(const Prepared& prepared, const film::Film& film);

struct Still {
    std::unique_ptr<film::Film> film;
    film::LightShares shares;  // of the region, cleaned as wished
    finish::DevelopSettings develop;
    picture::Raster<float> picture;  // encoded sRGB of the region, 3 or 4 channels
    render::RenderReport report;
    base::Notes notes;
};

// All three. Errors: as prepare(), filmFor() and expose().
base::Result<Still> makeStill(const Work& work, const StillSettings& settings, Cache& cache, const base::Progress& progress);

// A still from a film file that is there, as far as it is exposed; of the settings it takes filmPath, filmKey, denoise and transparent.
// Errors: BadInput when the file is no film of this key, CannotRead, Stopped.
base::Result<Still> developFilm(const Work& work, const StillSettings& settings, const base::Progress& progress);

// The film's shape for a work at a size. Errors: BadInput.
base::Result<film::FilmShape> filmShapeFor(const render::Scene& scene, const SheetSize& sheet, const StillSettings& settings);

// Bytes a render of that shape takes at its peak (film, picture, passes on export), and bytes this machine can give.
std::uint64_t bytesNeeded(const film::FilmShape& shape, const WorkBodies& bodies);
std::uint64_t bytesAvailable();

}  // namespace work
