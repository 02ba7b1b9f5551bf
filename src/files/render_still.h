// A still rendered to its file: the whole flow of finals and of the command line. What memory does not hold is exposed band by band,
// each cleaned and its light kept, then developed into the file row by row.
#pragma once

#include "files/light_folder.h"
#include "files/still_file.h"
#include "work/make_still.h"

namespace files {

inline constexpr int kBandMargin = 64;                   // rows beyond a band that its noise reduction looks at
inline constexpr std::uint64_t kBandBytes = 6ull << 30;  // that a band takes at most

struct StillFile {
    std::string path;
    work::FileFormat format = work::FileFormat::Png8;
    bool whenStopped = false;  // a render that was stopped is saved as gathered; else only its film stays
    std::string lightFolder;   // of a large picture: settings.filmPath when that is given, else this, which goes when the file is there
    FileOptions options = {};
};
struct RenderedStill {
    render::RenderReport report;  // without shares; of bands the largest noise, -1 when none was told
    base::Notes notes;
};

// Errors: as work::makeStill and saveStill; Stopped. Stopped or killed it goes on with the same call as long as there is a film or folder.
base::Result<RenderedStill> renderStill(const work::Work& work, const work::StillSettings& settings, const StillFile& file,
                                        work::Cache& cache, const base::Progress& progress);

// A large picture that was stopped, saved as it is: the bands that are finished, and the others from kQuickSamples samples. The folder
// settings.filmPath stays as it was, so that the render can go on. Stopped it goes on with the same call. Errors: as renderStill.
inline constexpr std::uint32_t kQuickSamples = 4;
base::Result<RenderedStill> saveUnfinished(const work::Work& work, const work::StillSettings& settings, const StillFile& file,
                                           work::Cache& cache, const base::Progress& progress);

// Rows of the bands that a picture is made in; 0: memory (or `settings.memoryBudget`) holds it as a whole. Errors: TooLarge.
base::Result<int> bandRowsFor(const work::Prepared& prepared, const work::StillSettings& settings);

// Exposes what `folder` lacks of a picture, in bands as large as memory allows, spread over the picture so that the time left is told
// well. Of the settings it takes all but filmPath. Errors: as work::makeStill; BadInput as LightFolder; Stopped.
base::Result<RenderedStill> exposeBands(const work::Prepared& prepared, int rowsInBand, const work::StillSettings& settings,
                                        const std::string& folder, const base::Progress& progress);

}  // namespace files
