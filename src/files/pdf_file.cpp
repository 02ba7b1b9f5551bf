#include "files/pdf_file.h"

#include <cairo-pdf.h>
#include <fmt/format.h>

#include <algorithm>
#include <memory>

#include "base/file.h"

namespace files {

namespace {

struct Free {
    void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    void operator()(cairo_t* context) const { cairo_destroy(context); }
};
using Surface = std::unique_ptr<cairo_surface_t, Free>;
using Drawing = std::unique_ptr<cairo_t, Free>;

cairo_status_t writeTo(void* writer, const unsigned char* data, unsigned int size)
{
    return static_cast<base::FileWriter*>(writer)->write(data, size) ? CAIRO_STATUS_SUCCESS : CAIRO_STATUS_WRITE_ERROR;
}

// Rows as cairo has them: blue first, premultiplied.
void put(cairo_surface_t* surface, const picture::Raster<std::uint8_t>& rows, int y0)
{
    unsigned char* to = cairo_image_surface_get_data(surface);
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(surface));
    for (int y = 0; y < rows.height; ++y) {
        auto* line = reinterpret_cast<std::uint32_t*>(to + static_cast<std::size_t>(y0 + y) * stride);
        for (int x = 0; x < rows.width; ++x) {
            const std::uint8_t* p = rows.at(x, y);
            const std::uint32_t alpha = rows.channels == 4 ? p[3] : 255;
            const auto of = [&](std::uint32_t v) { return (v * alpha + 127) / 255; };
            line[x] = alpha << 24 | of(p[0]) << 16 | of(p[1]) << 8 | of(p[2]);
        }
    }
}

void draw(cairo_t* to, const PdfShape& shape, double pageHeight)
{
    cairo_new_path(to);
    for (const std::vector<base::Vec2>& contour : shape.shape) {
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const double x = shape.x + contour[i].x * shape.scale, y = pageHeight - (shape.y + contour[i].y * shape.scale);
            i == 0 ? cairo_move_to(to, x, y) : cairo_line_to(to, x, y);
        }
        cairo_close_path(to);
    }
    cairo_set_fill_rule(to, CAIRO_FILL_RULE_WINDING);
    cairo_set_source_rgba(to, shape.seen.x, shape.seen.y, shape.seen.z, shape.opacity);
    cairo_fill(to);
}

}  // namespace

base::Result<void> savePdf(const PictureShape& shape, double ppi, const std::vector<PdfShape>& over, const work::Credits& credits,
                           const std::string& path, const FillRows<std::uint8_t>& fill)
{
    if (std::max(shape.width, shape.height) > kMostPdfPx)
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("A PDF holds pictures of up to {} px a side; render it smaller, or as PNG or TIFF", kMostPdfPx),
                          path);
    auto writer = base::FileWriter::open(path);
    if (!writer)
        return tl::unexpected<base::Error>(writer.error());
    const Surface picture(
        cairo_image_surface_create(shape.channels == 4 ? CAIRO_FORMAT_ARGB32 : CAIRO_FORMAT_RGB24, shape.width, shape.height));
    if (cairo_surface_status(picture.get()) != CAIRO_STATUS_SUCCESS)
        return base::fail(base::ErrorCode::TooLarge, "There is not enough memory for a PDF of this size; render it smaller", path);
    cairo_surface_flush(picture.get());
    int row = 0;
    if (auto filled = fill([&](const picture::Raster<std::uint8_t>& rows) -> base::Result<void> {
            put(picture.get(), rows, row);
            row += rows.height;
            return {};
        });
        !filled)
        return filled;
    cairo_surface_mark_dirty(picture.get());
    const double width = shape.width * 72.0 / ppi, height = shape.height * 72.0 / ppi;
    const Surface page(cairo_pdf_surface_create_for_stream(writeTo, &*writer, width, height));
    if (!credits.author.empty())
        cairo_pdf_surface_set_metadata(page.get(), CAIRO_PDF_METADATA_AUTHOR, credits.author.c_str());
    if (!credits.licence.empty())
        cairo_pdf_surface_set_metadata(page.get(), CAIRO_PDF_METADATA_KEYWORDS, credits.licence.c_str());
    if (!credits.description.empty())
        cairo_pdf_surface_set_metadata(page.get(), CAIRO_PDF_METADATA_SUBJECT, credits.description.c_str());
    {
        const Drawing to(cairo_create(page.get()));
        cairo_save(to.get());
        cairo_scale(to.get(), 72 / ppi, 72 / ppi);
        cairo_set_source_surface(to.get(), picture.get(), 0, 0);
        cairo_pattern_set_filter(cairo_get_source(to.get()), CAIRO_FILTER_NEAREST);
        cairo_paint(to.get());
        cairo_restore(to.get());
        for (const PdfShape& one : over)
            draw(to.get(), one, height);
        cairo_show_page(to.get());
    }
    cairo_surface_finish(page.get());
    if (const cairo_status_t status = cairo_surface_status(page.get()); status != CAIRO_STATUS_SUCCESS && !writer->failed())
        return base::fail(base::ErrorCode::CannotWrite, fmt::format("The PDF cannot be made: {}", cairo_status_to_string(status)), path);
    return writer->commit();
}

}  // namespace files
