// Every light's share of a finished picture, cleaned, as OpenEXR: what is kept of a render when its film is too large to keep. It
// opens in other programs: coverage as A and the layers "light.<entry>" (R, G, B; premultiplied, in white at brightness 1), half
// floats, packed without loss. What each pixel shows stands in the layers "ids0" to "ids3", from the most to the least (after the idea of
// J. Friedman and A. Jones, Fully automatic ID mattes with support for motion blur and transparency, 2015): the numbers of piece and
// letter, counted from 1, as "piece" and "letter" with 1024 of "pieceHigh" and "letterHigh", that of "part", and "share".
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "film/shares.h"

namespace files {

struct LightFile {
    film::LightShares shares;  // what half floats hold of them: 11 bits, 65,504 at most
    std::string key;           // names work and settings, as for a film
    double samples = 0;        // mean over the pixels
    std::string about;         // what else its keeper wants to know, any text
};

// Errors: CannotWrite.
base::Result<std::vector<std::uint8_t>> lightBytes(const LightFile& light);
// `name` is said in errors. Errors: BadInput for anything but such a file.
base::Result<LightFile> lightFromBytes(const std::vector<std::uint8_t>& bytes, const std::string& name);

}  // namespace files
