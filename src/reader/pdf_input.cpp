#include <fmt/format.h>
#include <glib/poppler.h>

#include <algorithm>
#include <cmath>

#include "reader/cairo_surface.h"
#include "reader/inputs.h"
#include "reader/shapes.h"

namespace reader {

namespace {

struct Unref {
    void operator()(PopplerDocument* d) const { g_object_unref(d); }
    void operator()(PopplerPage* p) const { g_object_unref(p); }
    void operator()(GBytes* b) const { g_bytes_unref(b); }
};

}  // namespace

base::Result<outline::Drawing> readPdf(const std::vector<std::uint8_t>& bytes, int number)
{
    GError* error = nullptr;
    const std::unique_ptr<GBytes, Unref> data(g_bytes_new_static(bytes.data(), bytes.size()));
    const std::unique_ptr<PopplerDocument, Unref> document(poppler_document_new_from_bytes(data.get(), nullptr, &error));
    if (!document) {
        const std::string why = error ? error->message : "unknown reason";
        g_clear_error(&error);
        return base::fail(base::ErrorCode::BadInput, "The PDF cannot be read: " + why);
    }
    const int pages = poppler_document_get_n_pages(document.get());
    if (number < 1 || number > pages)
        return base::fail(base::ErrorCode::BadInput, fmt::format("The PDF has {} pages; there is no page {}", pages, number));
    const std::unique_ptr<PopplerPage, Unref> page(poppler_document_get_page(document.get(), number - 1));
    if (!page)
        return base::fail(base::ErrorCode::BadInput, fmt::format("Page {} of the PDF is broken", number));
    double width = 0, height = 0;
    poppler_page_get_size(page.get(), &width, &height);
    if (!(width > 0 && width < 1e6) || !(height > 0 && height < 1e6))
        return base::fail(base::ErrorCode::BadInput, fmt::format("Page {} of the PDF has no size", number));
    SvgSurface surface(width, height);
    poppler_page_render_for_printing(page.get(), surface.cairo());
    const double scale = surface.scale();
    const std::string text = surface.finish();
    if (text.empty())
        return base::fail(base::ErrorCode::TooLarge, "The PDF paints more than can be read; simplify it");
    auto picture = readCairoSvg(text);
    if (!picture)
        return tl::unexpected<base::Error>(picture.error());
    auto drawing = drawingOf(std::move(*picture), width, height, 1 / scale, {});
    if (drawing && pages > 1)
        drawing->notes.push_back({"artwork-pages", fmt::format("This is page {} of {}", number, pages), {}});
    return drawing;
}

}  // namespace reader
