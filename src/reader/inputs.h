// The kinds of artwork that are read.
#pragma once

#include <cstdint>
#include <vector>

#include "outline/drawing.h"

namespace reader {

// SVG 1.1 and what librsvg draws of 2; nothing outside the bytes is looked at. A px is 3/4 pt (CSS 2.1, 4.3.2). Errors: BadInput, TooLarge.
base::Result<outline::Drawing> readSvg(const std::vector<std::uint8_t>& bytes);

// A page of a PDF, counted from 1. Errors: BadInput, TooLarge.
base::Result<outline::Drawing> readPdf(const std::vector<std::uint8_t>& bytes, int page);

}  // namespace reader
