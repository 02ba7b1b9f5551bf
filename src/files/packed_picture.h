// AVIF, JPEG XL and WebP: pictures whose libraries take them whole.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/result.h"
#include "picture/raster.h"

namespace files {

// What stands in the file beside the picture.
struct PackedAbout {
    int quality = 92;                   // 1 to 100; JPEG XL loses nothing at 100
    std::vector<std::uint8_t> profile;  // ICC; the pixels are encoded in it
    std::string xmp;                    // a packet (ISO 16684-1), or nothing
};

// The bytes of a file of encoded values, straight alpha with four channels. None of them says how many pixels an inch has. Errors:
// CannotWrite, with the library's reason.
base::Result<std::vector<std::uint8_t>> avifBytes(const picture::Raster<std::uint8_t>& picture, const PackedAbout& about);
base::Result<std::vector<std::uint8_t>> webpBytes(const picture::Raster<std::uint8_t>& picture, const PackedAbout& about);
base::Result<std::vector<std::uint8_t>> jxlBytes(const picture::Raster<std::uint8_t>& picture, const PackedAbout& about);
base::Result<std::vector<std::uint8_t>> jxlBytes(const picture::Raster<std::uint16_t>& picture, const PackedAbout& about);

}  // namespace files
