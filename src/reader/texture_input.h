// Pictures for materials.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/result.h"

namespace reader {

// A PNG, JPEG, TIFF, WebP or EXR whole, as a PAM (netpbm) of RGB and alpha, alpha not multiplied in, with 8 bits, or 16 where the file has
// more; turned as it says it is held, sRGB; of an EXR linear up to 1 ("# linear" in its head). Larger ones are made smaller, down to 256
// MB. Errors: BadInput, TooLarge.
base::Result<std::string> readTexture(const std::vector<std::uint8_t>& bytes);

}  // namespace reader
