// Pictures too large for memory: exposed band by band, each cleaned and its light kept, then developed into their file row by row.
#pragma once

#include <functional>
#include <memory>

#include "files/light_file.h"
#include "work/make_still.h"

namespace files {

inline constexpr int kBandMargin = 64;                   // rows beyond a band that its noise reduction looks at
inline constexpr std::uint64_t kBandBytes = 6ull << 30;  // that a band takes at most

// Whether the picture does not fit into memory (or into `settings.memoryBudget`) with its film.
base::Result<bool> isLarge(const work::Work& work, const work::StillSettings& settings, work::Cache& cache, const base::Progress& progress);

// The light of a large picture: a folder with light.json, which says what it is of, and an OpenEXR file for each band of rows that is
// finished.
class LightFolder {
public:
    // Made, or gone on with: then the bands are as they were. `stop` says when they are finished. Errors: BadInput for the light of another
    // picture, for a finished one that shall have more samples now, and for a folder with other things in it; CannotWrite; Busy.
    static base::Result<LightFolder> create(const std::string& folder, const std::string& key, const film::FilmShape& shape, int rowsInBand,
                                            const render::StopRule& stop);
    // One that is there, finished or not. Errors: CannotRead, BadInput, Busy.
    static base::Result<LightFolder> open(const std::string& folder, const std::string& key);
    static bool isOne(const std::string& path);
    // Removes what a render made there, and the folder when nothing else is in it.
    static void remove(const std::string& folder);

    const film::FilmShape& shape() const { return m_shape; }
    int bandCount() const { return (m_shape.regionHeight + m_rows - 1) / m_rows; }
    film::Film::Rect bandRect(int band) const;  // px of the whole picture
    bool has(int band) const;
    bool isWhole() const;
    // `shares` hold the band's rows and perhaps more. Errors: CannotWrite.
    base::Result<void> put(int band, const film::LightShares& shares, double samples) const;
    base::Result<LightFile> get(int band) const;  // Errors: CannotRead, BadInput
    std::string filmPath(int band) const;         // of the film while the band is exposed

private:
    LightFolder(std::string folder, std::string key, film::FilmShape shape, int rows)
        : m_folder(std::move(folder)), m_key(std::move(key)), m_shape(std::move(shape)), m_rows(rows)
    {
    }
    std::string pathOf(int band) const;

    std::string m_folder, m_key;
    std::shared_ptr<base::FileLock> m_lock;
    film::FilmShape m_shape;
    int m_rows;
    render::StopRule m_stop;
};

struct LargeStill {
    render::RenderReport report;  // without shares; noise is the largest of a band, -1 when none was told
    base::Notes notes;
};

// Exposes what `folder` lacks of a picture, in bands as large as memory allows, spread over the picture so that the time left is told
// well. Stopped or killed it goes on with the same call. Of the settings it takes all but filmPath. Errors: as makeStill; BadInput as
// LightFolder; Stopped.
base::Result<LargeStill> exposeLarge(const work::Work& work, const work::StillSettings& settings, const std::string& folder,
                                     work::Cache& cache, const base::Progress& progress);

// Light that is kept, in bands from the top.
struct LightSource {
    film::FilmShape shape;
    int bands = 0;
    std::function<base::Result<film::LightShares>(int band)> get;
};
LightSource sourceOf(const LightFolder& folder);
LightSource sourceOf(std::shared_ptr<const LightFile> light);

// At a size for the screen, every `step` px, as film::smaller. Errors: those of the source.
base::Result<film::LightShares> smallerLight(const LightSource& light, int step);

// Develops it into .png or .exr (with coverage and the lights' layers), row by row. Errors: as saveStill; those of the source; Stopped.
base::Result<void> saveLight(const LightSource& light, const finish::DevelopSettings& develop, double ppi, int bits,
                             const std::string& path, const base::Progress& progress);

}  // namespace files
