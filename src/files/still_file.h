// A finished still to a picture file, as its name asks.
#pragma once

#include <string>

#include "base/result.h"
#include "work/make_still.h"

namespace files {

// Lower-case ending of a file name with its point: ".png".
std::string endingOf(const std::string& path);

// Whether a still can be saved under this name with so many bits. Errors: BadInput.
base::Result<void> checkStillName(const std::string& path, int bits);

// Saves the still as .png (8 or 16 bits) or .exr with all passes. `ppi` is that of the written pixels. Errors: BadInput for
// another ending or number of bits, CannotWrite.
base::Result<void> saveStill(const work::Still& still, double ppi, int bits, const std::string& path);

// An .exr with all passes of a film, mixed as told. Errors: CannotWrite.
base::Result<void> savePasses(const film::Film& film, const film::LightShares& shares, const finish::DevelopSettings& develop, double ppi,
                              const std::string& path);

// Pixels per inch of a sheet that is rendered `widthPx` wide.
double ppiFor(const work::Sheet& sheet, int widthPx);

}  // namespace files
