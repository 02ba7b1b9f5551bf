// Artwork of others, SVG, PDF and pictures to be traced, read by open-glow-reader: a process of its own with limits on time, memory and
// output.
#pragma once

#include <optional>

#include "base/progress.h"
#include "base/result.h"
#include "outline/drawing.h"
#include "outline/font.h"
#include "work/artwork.h"

namespace files {

enum class ArtworkKind { Svg, Pdf, Picture };

// By the first bytes; nothing for other files.
std::optional<ArtworkKind> artworkKindOf(const outline::Bytes& bytes);

// Reads artwork. `page` is that of a PDF, counted from 1; `name` is said in errors. Nothing outside the bytes is looked at. It takes 10 s
// at most. A picture (PNG, JPEG, TIFF) is traced at its usual threshold. Errors: BadInput with the reader's reason, TooLarge for what
// exceeds its limits, CannotRead where the reader is missing, Stopped.
base::Result<outline::Drawing> readArtwork(outline::SharedBytes bytes, int page, const std::string& name, const base::Progress& progress);

// The same with its bytes; what shows nothing is BadInput too.
base::Result<work::ArtworkFile> artworkFromBytes(outline::SharedBytes bytes, const std::string& name, int page,
                                                 const base::Progress& progress);
// A file on disk, whole. Errors: as readArtwork() and CannotRead.
base::Result<work::ArtworkFile> readArtworkFile(const std::string& path, int page, const base::Progress& progress);

}  // namespace files
