// The light of a picture too large for memory, on disk.
#pragma once

#include "base/file_lock.h"
#include "files/light_source.h"
#include "render/stop_rule.h"

namespace files {

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
    // Takes the finished bands of another folder of the same picture as its own. Errors: CannotWrite.
    base::Result<void> adopt(const LightFolder& other) const;
    int rowsInBand() const { return m_rows; }
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

LightSource sourceOf(const LightFolder& folder);

}  // namespace files
