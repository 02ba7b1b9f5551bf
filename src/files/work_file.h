// .openglow files: a ZIP archive with mimetype, work.json, assets/<name> and preview.png (docs/format.md).
#pragma once

#include <optional>
#include <string>

#include "base/result.h"
#include "picture/raster.h"
#include "work/work.h"

namespace files {

// Errors: CannotRead; BadInput for what is no ZIP, is broken or truncated, lacks work.json or an asset, or holds a work that
// cannot be read (place: the file and the JSON pointer); TooLarge for more than 1 GB unpacked.
base::Result<work::Work> openWork(const std::string& path);

// Saves in one step (see base::replaceFile): a crash or a full disk leaves the old file as it was. `preview` is shown by file
// managers; without one the file has none. Errors: CannotWrite.
base::Result<void> saveWork(const work::Work& work, const std::string& path, const std::optional<picture::Raster<std::uint8_t>>& preview = {});

}  // namespace files
