// A still as a page of a PDF: the picture in its real size, and over it shapes that stay sharp at any.
#pragma once

#include "files/picture_file.h"
#include "finish/layers.h"
#include "work/work.h"

namespace files {

// A flat shape of one colour over the picture. Lengths are pt, from the page's lower left corner, y up.
struct PdfShape {
    finish::FlatShape shape;
    double x = 0, y = 0, scale = 1;  // where the shape's origin lies, and what its units are
    base::Rgb seen;                  // encoded sRGB
    double opacity = 1;
};

inline constexpr int kMostPdfPx = 32767;  // a side, of what cairo draws on

// A PDF 1.5 of one page as large as the picture at `ppi`. Pixels are kept without loss, as device colours; those of a picture with
// coverage let through. Author, licence (as keyword) and description (as subject) go into its information dictionary. The picture is held
// in memory, 4 bytes a pixel. Errors: CannotWrite, TooLarge over kMostPdfPx, those of `fill`.
base::Result<void> savePdf(const PictureShape& shape, double ppi, const std::vector<PdfShape>& over, const work::Credits& credits,
                           const std::string& path, const FillRows<std::uint8_t>& fill);

}  // namespace files
