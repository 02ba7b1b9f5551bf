// .openglow files: a ZIP archive with mimetype, work.json, assets/<name> and preview.png (docs/format.md).
#pragma once

#include <optional>
#include <string>

#include "base/result.h"
#include "picture/raster.h"
#include "work/work.h"

namespace files {

// What a work may take, unpacked: all its assets together, and its JSON (json::kMostBytes). What is saved keeps to both.
inline constexpr std::uint64_t kMostAssetBytes = 1u << 30;

// `notes` gets what was mended, see fromJson(). Errors: CannotRead; BadInput for what is no ZIP, is broken or truncated, lacks
// work.json or an asset, or holds a work that cannot be read (place: the file and the JSON pointer); TooLarge.
base::Result<work::Work> openWork(const std::string& path, base::Notes* notes = nullptr);

// The same from the bytes of a file; `path` is said in errors.
base::Result<work::Work> workFromBytes(const std::vector<std::uint8_t>& bytes, const std::string& path, base::Notes* notes = nullptr);

// Saves in one step (see base::replaceFile): a crash or a full disk leaves the old file as it was. `preview` is shown by file
// managers; without one the file has none. Fonts that no piece uses are left out. What was packed is opened again and compared before the
// old file goes. Errors: CannotWrite; TooLarge for what could not be opened again.
base::Result<void> saveWork(const work::Work& work, const std::string& path,
                            const std::optional<picture::Raster<std::uint8_t>>& preview = {});

// Its picture, a PNG as it was saved. Errors: CannotRead, BadInput for what is no work or has no picture.
base::Result<std::vector<std::uint8_t>> previewBytes(const std::string& path);

// The bytes of such a file. `path` is said in errors.
base::Result<std::vector<std::uint8_t>> workBytes(const work::Work& work, const std::string& path,
                                                  const std::optional<picture::Raster<std::uint8_t>>& preview = {});

}  // namespace files
