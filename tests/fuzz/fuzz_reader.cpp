// Artwork: what the reader makes of any bytes, and what its drawing is read back as. The first letter chooses: s SVG, p PDF, i picture,
// d a drawing, g greys.
#include "fuzz/target.h"
#include "reader/inputs.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size == 0 || size > 1 << 16)
        return 0;
    const std::vector<std::uint8_t> bytes(data + 1, data + size);
    const std::string text(bytes.begin(), bytes.end());
    base::Result<outline::Drawing> drawing = base::fail(base::ErrorCode::BadInput, "none");
    switch (data[0]) {
    case 's':
        drawing = reader::readSvg(bytes);
        break;
    case 'p':
        drawing = reader::readPdf(bytes, 1);
        break;
    case 'i':
        if (const auto greys = reader::readPicture(bytes); greys && greys->values.size() < 1 << 18)
            drawing = outline::traced(*greys, {outline::usualThreshold(*greys), false, 0.75, 2});
        break;
    case 'd':
        drawing = outline::drawingFromSvg(text, "fuzz");
        break;
    default:
        (void)outline::greysFromPgm(text, "fuzz");
    }
    if (!drawing || drawing->shapes.empty())
        return 0;
    // What was read is written and read again the same.
    const std::string written = outline::svgOf(*drawing);
    const auto again = outline::drawingFromSvg(written, "again");
    if (again && again->shapes.size() != drawing->shapes.size())
        __builtin_trap();
    return 0;
}
