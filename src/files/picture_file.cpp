#include "files/picture_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/file.h"
#include "files/colour_profile.h"
#include "files/exr_file.h"
#include "files/packed_picture.h"
#include "files/row_writers.h"

namespace files {

namespace {

tl::unexpected<base::Error> cannotWrite(const std::string& path, const std::string& why)
{
    return base::fail(base::ErrorCode::CannotWrite,
                      fmt::format("This picture cannot be written ({}); choose another place or free some room", why), path);
}

template <class T>
constexpr Depth kDepth = sizeof(T) == 1   ? Depth::Byte
                         : sizeof(T) == 2 ? Depth::Word
                                          : Depth::Float;

std::unique_ptr<RowWriter> writerOf(std::string_view format, Sink& sink, const RowsHead& head)
{
    return format == "png" ? pngWriter(sink, head) : format == "tiff" ? tiffWriter(sink, head) : jpegWriter(sink, head);
}

// What the disk says comes first: a library's own words for it say less.
base::Result<void> failed(base::FileWriter& file, const std::string& path, const std::string& why)
{
    if (file.failed())
        return file.commit();
    return cannotWrite(path, why);
}

// Writes a file row by row, under another name until it is whole.
template <class T>
base::Result<void> saveRows(std::string_view format, const RowsHead& head, const std::string& path, const FillRows<T>& fill)
{
    auto file = base::FileWriter::open(path);
    if (!file)
        return tl::unexpected<base::Error>(file.error());
    FileSink sink(*file);
    {
        const auto out = writerOf(format, sink, head);
        const base::Result<void> filled = fill([&](const picture::Raster<T>& rows) -> base::Result<void> {
            for (int y = 0; y < rows.height; ++y)
                if (!out->add(rows.at(0, y)) || file->failed())
                    return failed(*file, path, out->error());
            return {};
        });
        if (!filled)
            return filled;
        if (!out->end())
            return failed(*file, path, out->error());
    }
    return file->commit();
}

// Those that are made whole, of all rows together.
template <class T>
base::Result<void> savePacked(std::string_view format, const PictureShape& shape, const PackedAbout& about, const std::string& path,
                              const FillRows<T>& fill)
{
    if (const auto place = base::writablePlace(path); !place)
        return tl::unexpected<base::Error>(place.error());
    picture::Raster<T> all(shape.width, 0, shape.channels);
    if (auto filled = fill([&](const picture::Raster<T>& rows) -> base::Result<void> {
            all.values.insert(all.values.end(), rows.values.begin(), rows.values.end());
            all.height += rows.height;
            return {};
        });
        !filled)
        return filled;
    auto bytes = [&]() -> base::Result<std::vector<std::uint8_t>> {
        if constexpr (std::is_same_v<T, std::uint8_t>)
            return format == "avif" ? avifBytes(all, about) : format == "webp" ? webpBytes(all, about) : jxlBytes(all, about);
        else
            return jxlBytes(all, about);
    }();
    if (!bytes) {
        bytes.error().place = path;
        return base::failed(bytes);
    }
    return base::replaceFile(path, *bytes);
}

template <class T>
FillRows<T> allOf(const picture::Raster<T>& picture)
{
    return [&](const AddRows<T>& add) { return add(picture); };
}

template <class T>
PictureShape shapeOf(const picture::Raster<T>& picture)
{
    return {picture.width, picture.height, picture.channels};
}

constexpr int kMostWebP = 16383;  // px a side (RFC 9649, 2.7.1: 14 bits)

}  // namespace

template <class T>
base::Result<void> savePicture(const char* format, const PictureShape& shape, double ppi, const Encoding& encoding, const std::string& path,
                               const FillRows<T>& fill)
{
    const std::string_view name = format;
    if (name == "webp" && std::max(shape.width, shape.height) > kMostWebP)
        return base::fail(base::ErrorCode::CannotWrite,
                          fmt::format("A WebP has at most {} px a side; save it smaller, or as PNG, JPEG or TIFF", kMostWebP), path);
    const auto& profile = encoding.profile ? *encoding.profile : ColourProfile::srgb().bytes();
    if constexpr (!std::is_same_v<T, float>)
        if (name == "avif" || name == "jxl" || name == "webp")
            return savePacked(name, shape, {encoding.quality, profile, encoding.xmp}, path, fill);
    RowsHead head{shape.width, shape.height, shape.channels, kDepth<T>, ppi, encoding.quality, {}};
    if (name != "png" || encoding.profile)
        head.profile = profile;
    return saveRows(name, head, path, fill);
}
template base::Result<void> savePicture(const char*, const PictureShape&, double, const Encoding&, const std::string&,
                                        const FillRows<std::uint8_t>&);
template base::Result<void> savePicture(const char*, const PictureShape&, double, const Encoding&, const std::string&,
                                        const FillRows<std::uint16_t>&);
template base::Result<void> savePicture(const char*, const PictureShape&, double, const Encoding&, const std::string&,
                                        const FillRows<float>&);

base::Result<void> savePng(const picture::Raster<std::uint8_t>& picture, double ppi, const std::string& path)
{
    return savePicture("png", shapeOf(picture), ppi, {}, path, allOf(picture));
}

base::Result<void> savePng(const picture::Raster<std::uint16_t>& picture, double ppi, const std::string& path)
{
    return savePicture("png", shapeOf(picture), ppi, {}, path, allOf(picture));
}

base::Result<std::vector<std::uint8_t>> pngBytes(const picture::Raster<std::uint8_t>& picture, double ppi)
{
    MemorySink memory;
    const auto out = pngWriter(memory, {picture.width, picture.height, picture.channels, Depth::Byte, ppi, 0, {}});
    bool good = true;
    for (int y = 0; y < picture.height && good; ++y)
        good = out->add(picture.at(0, y));
    if (!good || !out->end())
        return cannotWrite("preview.png", out->error());
    return std::move(memory.bytes);
}

base::Result<void> saveExr(const std::vector<std::string>& channels, int width, int height, const ExrWindow& window, double ppi,
                           const std::string& path, const FillRows<float>& fill)
{
    auto file = base::FileWriter::open(path);
    if (!file)
        return tl::unexpected<base::Error>(file.error());
    FileSink sink(*file);
    ExrHead head{window.dataX, window.dataY, width, height, window.fullWidth, window.fullHeight, channels};
    head.ppi = ppi;
    auto out = ExrWriter::begin(sink, head);
    if (!out)
        return failed(*file, path, out.error().message);
    const base::Result<void> filled = fill([&](const picture::Raster<float>& rows) -> base::Result<void> {
        if (auto added = out->add(rows.values.data(), rows.height); !added)
            return failed(*file, path, added.error().message);
        return {};
    });
    if (!filled)
        return filled;
    out->end();
    return file->commit();
}

std::vector<std::string> channelsOf(const picture::Raster<float>& picture, const picture::Passes& passes)
{
    std::vector<std::string> names;
    const char* const kMain[] = {"R", "G", "B", "A"};
    for (int c = 0; c < picture.channels; ++c)
        names.emplace_back(kMain[c]);
    for (const picture::Pass& pass : passes)
        for (const std::string& channel : pass.channels)
            names.push_back(pass.name + "." + channel);
    return names;
}

picture::Raster<float> joined(const picture::Raster<float>& picture, const picture::Passes& passes, int y0, int y1)
{
    int channels = picture.channels;
    for (const picture::Pass& pass : passes)
        channels += pass.raster.channels;
    picture::Raster<float> rows(picture.width, y1 - y0, channels);
    float* to = rows.values.data();
    for (int y = y0; y < y1; ++y)
        for (int x = 0; x < picture.width; ++x) {
            to = std::copy_n(picture.at(x, y), picture.channels, to);
            for (const picture::Pass& pass : passes)
                to = std::copy_n(pass.raster.at(x, y), pass.raster.channels, to);
        }
    return rows;
}

base::Result<void> saveExr(const picture::Raster<float>& picture, const picture::Passes& passes, const ExrWindow& window, double ppi,
                           const std::string& path)
{
    return saveExr(channelsOf(picture, passes), picture.width, picture.height, window, ppi, path,
                   [&](const AddRows<float>& add) -> base::Result<void> {
                       constexpr int kTogether = 64;  // rows
                       for (int from = 0; from < picture.height; from += kTogether)
                           if (auto added = add(joined(picture, passes, from, std::min(from + kTogether, picture.height))); !added)
                               return added;
                       return {};
                   });
}

}  // namespace files
