// Pictures to files: PNG and EXR.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/result.h"
#include "picture/raster.h"

namespace files {

// A PNG of encoded sRGB values (1, 3 or 4 channels, straight alpha) with sRGB chunk and resolution (pHYs, whole px per metre).
// Written in one step. Errors: CannotWrite.
base::Result<void> savePng(const picture::Raster<std::uint8_t>& picture, double ppi, const std::string& path);
base::Result<void> savePng(const picture::Raster<std::uint16_t>& picture, double ppi, const std::string& path);
base::Result<std::vector<std::uint8_t>> pngBytes(const picture::Raster<std::uint8_t>& picture, double ppi);

// A scene-linear OpenEXR with the picture (R, G, B, A premultiplied, sRGB primaries) and every pass as a layer of its name, all
// 32-bit float. `dataX`, `dataY` place the region in a display window of the whole picture.
struct ExrWindow {
    int dataX = 0, dataY = 0, fullWidth = 0, fullHeight = 0;
};
base::Result<void> saveExr(const picture::Raster<float>& picture, const picture::Passes& passes, const ExrWindow& window, double ppi,
                           const std::string& path);

}  // namespace files
