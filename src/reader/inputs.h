// The kinds of artwork that are read.
#pragma once

#include <cstdint>
#include <vector>

#include "outline/trace.h"

namespace reader {

// SVG 1.1 and what librsvg draws of 2; nothing outside the bytes is looked at. A px is 3/4 pt (CSS 2.1, 4.3.2). Errors: BadInput, TooLarge.
base::Result<outline::Drawing> readSvg(const std::vector<std::uint8_t>& bytes);

// A page of a PDF, counted from 1. Errors: BadInput, TooLarge.
base::Result<outline::Drawing> readPdf(const std::vector<std::uint8_t>& bytes, int page);

// The greys of a PNG, JPEG or TIFF, over white where it is transparent, turned as it says it is held; larger ones are made at most
// kMostPixels on their longer side. Errors: BadInput, TooLarge.
inline constexpr int kMostPixels = 1600;
base::Result<outline::Greys> readPicture(const std::vector<std::uint8_t>& bytes);

}  // namespace reader
