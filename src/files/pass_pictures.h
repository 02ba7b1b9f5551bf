// Passes of a film by name: some rows of them at a time, and as pictures.
#pragma once

#include "files/still_file.h"

namespace files {

// The passes that are named (none: all) of a still that has a film, each with the name it has in a file. `still` and `develop` must outlive
// it.
class PassRows {
public:
    using Made = std::pair<picture::Raster<float>, picture::Passes>;  // linear light with coverage, premultiplied, and the passes

    PassRows(const StillSource& still, const finish::DevelopSettings& develop, const std::vector<std::string>& names);
    int halo() const { return m_halo; }  // rows above and below that rows() needs of the light
    // Rows y0 to before y1; gives `with` the ids of what it shows. O(pixels x passes).
    Made rows(film::LightShares& with, int y0, int y1) const;
    Made first() const;  // a row of it, for the names

private:
    bool wants(std::string_view name) const;

    const StillSource& m_still;
    const finish::DevelopSettings& m_develop;
    std::vector<std::string> m_names;
    std::vector<std::pair<std::string, finish::DevelopSettings>> m_alone;  // layers as they are asked for, each by itself
    int m_halo = 0;
};

// Those a picture can hold, into files beside `path`: "kite.png" gets "kite.light.key.png" and so on, PNGs of 16 bits. Light and own
// colours over black, encoded sRGB; the finished picture, layers and lines with what they let through; alpha and shadow as they are;
// normals from 0 for -1 to 1; depth from white, what is nearest, to black; ids as colours of their own.
// kPassesOfExrAlone are left out. Lines are also drawn, as an SVG of shapes in pt: those of the finish, or hairlines where it has none.
// Errors: CannotWrite, those of the source, Stopped.
base::Result<void> savePassPictures(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                                    const base::Progress& progress);

}  // namespace files
