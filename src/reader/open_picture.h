// A picture file whose kind is known and whose size is allowed.
#pragma once

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"

namespace reader {

struct OpenPicture {
    std::string_view format;  // the library's name for it
    std::unique_ptr<OIIO::Filesystem::IOMemReader> memory;
    std::unique_ptr<OIIO::ImageInput> input;
    OIIO::ImageSpec spec;

    bool isLight() const { return spec.format.is_floating_point(); }
};

// PNG, JPEG, TIFF, WebP and EXR, and where it is asked for Radiance HDR; `bytes` must stay. Errors: BadInput, TooLarge.
base::Result<OpenPicture> openPicture(const std::vector<std::uint8_t>& bytes, double mostPixels, bool alsoRadiance);

tl::unexpected<base::Error> badPicture(const std::string& why);

}  // namespace reader
