// Pictures of all round, for surroundings: Radiance HDR, EXR, and ordinary ones, read by open-glow-picture-reader. In works they travel as
// the file they were, and are read again when a work is opened; what is open is held once, in however many works.
#pragma once

#include "files/reader_process.h"
#include "work/pictures.h"

namespace files {

// What the bytes show, made smaller to 2048 pixels across. It takes 30 s at most. Errors: as readByProcess(). Safe from several threads.
base::Result<light::SharedPanorama> readPanorama(const outline::SharedBytes& bytes, const std::string& name,
                                                 const base::Progress& progress);

// A file on disk with what it shows; one that is not twice as wide as high is told in `notes`. Errors: as above, and CannotRead.
base::Result<work::PanoramaFile> readPanoramaFile(const std::string& path, base::Notes* notes, const base::Progress& progress);

}  // namespace files
