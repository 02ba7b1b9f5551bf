#include "files/picture_file.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>

#include "base/file.h"
#include "files/colour_profile.h"
#include "files/packed_picture.h"

namespace files {

namespace {

namespace oiio = OIIO;

tl::unexpected<base::Error> cannotWrite(const std::string& path, const std::string& why)
{
    return base::fail(base::ErrorCode::CannotWrite,
                      fmt::format("This picture cannot be written ({}); choose another place or free some room", why), path);
}

oiio::ImageSpec specOf(const PictureShape& shape, oiio::TypeDesc type, double ppi)
{
    oiio::ImageSpec spec(shape.width, shape.height, shape.channels, type);
    spec.attribute("oiio:ColorSpace", "sRGB");
    spec.attribute("oiio:UnassociatedAlpha", 1);  // files are straight; without this the library would divide by alpha
    spec.attribute("XResolution", static_cast<float>(ppi));
    spec.attribute("YResolution", static_cast<float>(ppi));
    spec.attribute("ResolutionUnit", "in");
    return spec;
}

// The picture library writes through this: it does not always ask whether its bytes arrived.
class ToFile : public oiio::Filesystem::IOProxy {
public:
    explicit ToFile(base::FileWriter& file) : IOProxy("", Write), m_file(file) {}
    const char* proxytype() const override { return "open-glow"; }
    std::int64_t tell() override { return m_file.tell(); }
    bool seek(std::int64_t offset) override { return m_file.seek(offset); }
    size_t write(const void* data, size_t size) override
    {
        if (!m_file.write(data, size))
            return 0;
        m_end = std::max(m_end, m_file.tell());
        return size;
    }
    size_t pwrite(const void* data, size_t size, std::int64_t offset) override { return seek(offset) ? write(data, size) : 0; }
    size_t size() const override { return static_cast<size_t>(m_end); }  // TIFF goes back and forth

private:
    base::FileWriter& m_file;
    std::int64_t m_end = 0;
};

// Writes a file row by row, under another name until it is whole.
template <class T>
base::Result<void> saveRows(const char* format, oiio::ImageSpec spec, const std::string& path, const FillRows<T>& fill)
{
    auto file = base::FileWriter::open(path);
    if (!file)
        return tl::unexpected<base::Error>(file.error());
    ToFile proxy(*file);
    oiio::Filesystem::IOProxy* to = &proxy;
    spec.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &to);
    const auto out = oiio::ImageOutput::create(format);
    // What the disk says comes first: the library's own words for it say less.
    const auto failed = [&](const std::string& why) -> base::Result<void> {
        if (file->failed())
            return file->commit();
        return cannotWrite(path, why);
    };
    if (!out || !out->open(std::string("picture.") + format, spec))
        return failed(out ? out->geterror() : fmt::format("no {} writer", format));
    int y = spec.y;
    const base::Result<void> filled = fill([&](const picture::Raster<T>& rows) -> base::Result<void> {
        if (!out->write_scanlines(y, y + rows.height, 0, oiio::BaseTypeFromC<T>::value, rows.values.data()) || file->failed())
            return failed(out->geterror());
        y += rows.height;
        return {};
    });
    if (!filled)
        return filled;
    if (!out->close())
        return failed(out->geterror());
    return file->commit();
}

// Those that are made whole, of all rows together.
template <class T>
base::Result<void> savePacked(const std::string& format, const PictureShape& shape, const PackedAbout& about, const std::string& path,
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
            return format == "avif" ? avifBytes(all, about) : jxlBytes(all, about);
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

}  // namespace

namespace {

constexpr int kMostWebP = 16383;  // px a side (RFC 9649, 2.7.1: 14 bits)

}  // namespace

template <class T>
base::Result<void> savePicture(const char* format, const PictureShape& shape, double ppi, const Encoding& encoding, const std::string& path,
                               const FillRows<T>& fill)
{
    oiio::ImageSpec spec = specOf(shape, oiio::BaseTypeFromC<T>::value, ppi);
    const std::string name = format;
    if (name == "webp" && std::max(shape.width, shape.height) > kMostWebP)
        return base::fail(base::ErrorCode::CannotWrite,
                          fmt::format("A WebP has at most {} px a side; save it smaller, or as PNG, JPEG or TIFF", kMostWebP), path);
    if (encoding.profile)
        spec.erase_attribute("oiio:ColorSpace");
    const auto& profile = encoding.profile ? *encoding.profile : ColourProfile::srgb().bytes();
    if ((name != "png" || encoding.profile) && !profile.empty())  // PNG says sRGB in a chunk of its own
        spec.attribute("ICCProfile", oiio::TypeDesc(oiio::TypeDesc::UINT8, static_cast<int>(profile.size())), profile.data());
    if constexpr (!std::is_same_v<T, float>)
        if (name == "avif" || name == "jxl")
            return savePacked(name, shape, {encoding.quality, profile, encoding.xmp}, path, fill);
    if (name == "jpeg" || name == "webp")
        spec.attribute("compression", fmt::format("{}:{}", name, encoding.quality));
    else if (name == "tiff") {
        spec.attribute("compression", "zip");
        spec.erase_attribute("oiio:ColorSpace");  // it would be written as Exif, for which the file is read again; the profile says it
    }
    if (name == "jpeg")
        spec.attribute("jpeg:subsampling", encoding.quality >= 90 ? "4:4:4" : "4:2:0");  // coloured letters have hard edges
    return saveRows(format, spec, path, fill);
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
    std::vector<unsigned char> bytes;
    oiio::Filesystem::IOVecOutput memory(bytes);
    oiio::ImageSpec spec = specOf(shapeOf(picture), oiio::TypeDesc::UINT8, ppi);
    oiio::Filesystem::IOProxy* proxy = &memory;
    spec.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &proxy);
    const auto out = oiio::ImageOutput::create("png");
    if (!out || !out->open("preview.png", spec) || !out->write_image(oiio::TypeDesc::UINT8, picture.values.data()) || !out->close())
        return cannotWrite("preview.png", out ? out->geterror() : "no PNG writer");
    return bytes;
}

base::Result<void> saveExr(const std::vector<std::string>& channels, int width, int height, const ExrWindow& window, double ppi,
                           const std::string& path, const FillRows<float>& fill)
{
    oiio::ImageSpec spec(width, height, static_cast<int>(channels.size()), oiio::TypeDesc::FLOAT);
    spec.channelnames = channels;
    spec.alpha_channel = channels.size() > 3 && channels[3] == "A" ? 3 : -1;
    spec.x = window.dataX;
    spec.y = window.dataY;
    spec.full_x = spec.full_y = 0;
    spec.full_width = window.fullWidth;
    spec.full_height = window.fullHeight;
    spec.attribute("compression", "zip");
    spec.attribute("oiio:ColorSpace", "Linear");
    spec.attribute("XResolution", static_cast<float>(ppi));
    spec.attribute("YResolution", static_cast<float>(ppi));
    spec.attribute("ResolutionUnit", "in");
    return saveRows("openexr", spec, path, fill);
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
