// Pictures to files: PNG, JPEG, WebP, AVIF, JPEG XL, TIFF and EXR; pdf_file.h for PDF.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "base/result.h"
#include "picture/raster.h"

namespace files {

// A PNG of encoded sRGB values (1, 3 or 4 channels, straight alpha) with sRGB chunk and resolution (pHYs, whole px per metre).
// Written in one step. Errors: CannotWrite.
base::Result<void> savePng(const picture::Raster<std::uint8_t>& picture, double ppi, const std::string& path);
base::Result<void> savePng(const picture::Raster<std::uint16_t>& picture, double ppi, const std::string& path);
// The same for a picture that is made in parts: `fill` is called once and hands on rows from the top, as many at a time as it likes.
template <class T>
using AddRows = std::function<base::Result<void>(const picture::Raster<T>& rows)>;
template <class T>
using FillRows = std::function<base::Result<void>(const AddRows<T>& add)>;
struct PictureShape {
    int width = 0, height = 0, channels = 0;
};
// How a picture is written.
struct Encoding {
    int quality = 92;                                    // where something can be lost, 1 to 100
    const std::vector<std::uint8_t>* profile = nullptr;  // its colours are encoded in; nothing: sRGB
    std::string xmp;                                     // of WebP, AVIF and JPEG XL; others get theirs by writeCredits()
};
// `format`: "png", "jpeg", "webp", "avif", "jxl" or "tiff"; 16 bits of PNG, JPEG XL and TIFF alone, 32 (floating point) of TIFF. TIFF is
// packed without loss. WebP, AVIF and JPEG XL are held in memory whole. Errors: CannotWrite, also for a WebP of more than 16,383 px a side.
template <class T>
base::Result<void> savePicture(const char* format, const PictureShape& shape, double ppi, const Encoding& encoding, const std::string& path,
                               const FillRows<T>& fill);
base::Result<std::vector<std::uint8_t>> pngBytes(const picture::Raster<std::uint8_t>& picture, double ppi);

// A scene-linear OpenEXR with the picture (R, G, B, A premultiplied, sRGB primaries) and every pass as a layer of its name, all
// 32-bit float. `dataX`, `dataY` place the region in a display window of the whole picture.
struct ExrWindow {
    int dataX = 0, dataY = 0, fullWidth = 0, fullHeight = 0;
};
base::Result<void> saveExr(const picture::Raster<float>& picture, const picture::Passes& passes, const ExrWindow& window, double ppi,
                           const std::string& path);
// The channels of a picture with its passes, by name, and the pixels with all of them one after the other.
std::vector<std::string> channelsOf(const picture::Raster<float>& picture, const picture::Passes& passes);
picture::Raster<float> joined(const picture::Raster<float>& picture, const picture::Passes& passes, int y0, int y1);
// The same in parts; `channels` names them, R, G, B and A first.
base::Result<void> saveExr(const std::vector<std::string>& channels, int width, int height, const ExrWindow& window, double ppi,
                           const std::string& path, const FillRows<float>& fill);

}  // namespace files
