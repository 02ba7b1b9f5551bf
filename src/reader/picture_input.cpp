#include <fmt/format.h>
#include <gdk-pixbuf/gdk-pixbuf.h>

#include <algorithm>
#include <memory>

#include "reader/cut_off.h"
#include "reader/inputs.h"

namespace reader {

namespace {

constexpr int kMostSide = 30000;             // pixels of a file
constexpr double kMostPixelsOfFile = 120e6;  // three bytes each fit the memory this may take

struct Size {
    int width = 0, height = 0;
    bool isTooLarge() const { return width > kMostSide || height > kMostSide || double(width) * height > kMostPixelsOfFile; }
};

// Before the pixels are read: JPEGs are made smaller as they are.
void sizeIsKnown(GdkPixbufLoader* loader, int width, int height, gpointer known)
{
    auto& size = *static_cast<Size*>(known);
    size = {width, height};
    if (size.isTooLarge()) {
        gdk_pixbuf_loader_set_size(loader, 0, 0);
        return;
    }
    const double smaller = std::min(1.0, double(kMostPixels) / std::max({width, height, 1}));
    if (smaller < 1)
        gdk_pixbuf_loader_set_size(loader, std::max(1, int(width * smaller)), std::max(1, int(height * smaller)));
}

template <class T>
std::unique_ptr<T, decltype(&g_object_unref)> owned(T* object)
{
    return {object, g_object_unref};
}

// Rec. 709 luma of the coded values, over white.
std::uint8_t greyOf(const guchar* p, int channels)
{
    const double luma = channels < 3 ? p[0] : 0.2126 * p[0] + 0.7152 * p[1] + 0.0722 * p[2];
    const double alpha = channels == 4 ? p[3] / 255.0 : 1;
    return static_cast<std::uint8_t>(luma * alpha + 255 * (1 - alpha) + 0.5);
}

}  // namespace

base::Result<outline::Greys> readPicture(const std::vector<std::uint8_t>& bytes)
{
    if (isCutOff(bytes))
        return base::fail(base::ErrorCode::BadInput, "The picture is cut off: its end is missing; copy it again");
    const auto loader = owned(gdk_pixbuf_loader_new());
    Size size;
    g_signal_connect(loader.get(), "size-prepared", G_CALLBACK(sizeIsKnown), &size);
    GError* error = nullptr;
    const bool written = gdk_pixbuf_loader_write(loader.get(), bytes.data(), bytes.size(), &error);
    const bool closed = gdk_pixbuf_loader_close(loader.get(), written ? &error : nullptr);
    if (size.isTooLarge()) {
        g_clear_error(&error);
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("The picture has {} x {} pixels; make it smaller than {} on a side and {} million in all", size.width,
                                      size.height, kMostSide, int(kMostPixelsOfFile / 1e6)));
    }
    GdkPixbuf* read = written && closed ? gdk_pixbuf_loader_get_pixbuf(loader.get()) : nullptr;
    if (!read) {
        const std::string why = error ? error->message : "it is cut off";
        g_clear_error(&error);
        return base::fail(base::ErrorCode::BadInput, "This picture cannot be read: " + why);
    }
    const auto picture = owned(gdk_pixbuf_apply_embedded_orientation(read));
    outline::Greys greys{gdk_pixbuf_get_width(picture.get()), gdk_pixbuf_get_height(picture.get()), {}};
    const int channels = gdk_pixbuf_get_n_channels(picture.get()), stride = gdk_pixbuf_get_rowstride(picture.get());
    const guchar* pixels = gdk_pixbuf_read_pixels(picture.get());
    for (int y = 0; y < greys.height; ++y)
        for (int x = 0; x < greys.width; ++x)
            greys.values.push_back(greyOf(pixels + static_cast<std::ptrdiff_t>(y) * stride + x * channels, channels));
    return greys;
}

}  // namespace reader
