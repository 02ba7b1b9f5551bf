// Pictures of all round, for surroundings.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/result.h"

namespace reader {

// Radiance HDR, EXR and floating point TIFF as they are, others brightened: of a channel v, decoded from sRGB, v / (1 - 15/16 v), so that
// white is light of 16. As a PFM (three channels of floats, rows from the bottom, little-endian), made smaller to 2048 pixels across by
// whole factors. What is no number is dark, and nothing is darker than 0 or brighter than 1e6. Errors: BadInput, TooLarge.
base::Result<std::string> readPanorama(const std::vector<std::uint8_t>& bytes);

}  // namespace reader
