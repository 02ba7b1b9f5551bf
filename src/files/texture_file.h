// Pictures for materials: PNG, JPEG, TIFF, WebP and EXR, read by open-glow-reader. In works they travel as the file they were, and are
// read again when a work is opened; what is open is held once, in however many works.
#pragma once

#include <optional>

#include "files/reader_process.h"
#include "work/pictures.h"

namespace files {

// By the first bytes: whether it may be one.
bool isTexture(const outline::Bytes& bytes);

// What the bytes show. It takes 30 s at most. Errors: as readByProcess(). Safe from several threads.
base::Result<surface::SharedTexture> readTexture(const outline::SharedBytes& bytes, const std::string& name,
                                                 const base::Progress& progress);

// A file on disk with what it shows. Errors: as above, and CannotRead.
base::Result<work::PictureFile> readPictureFile(const std::string& path, const base::Progress& progress);

// Reads the pictures of a work that has just been opened, those of all round too. What cannot be read is told, and stays in the work.
void readPictures(work::Work& work, base::Notes* notes);

}  // namespace files
