#include "files/picture_file.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include "base/file.h"

namespace files {

namespace {

namespace oiio = OIIO;

tl::unexpected<base::Error> cannotWrite(const std::string& path, const std::string& why)
{
    return base::fail(base::ErrorCode::CannotWrite, fmt::format("This picture cannot be written ({}); choose another place or free some room", why), path);
}

template <class T>
oiio::ImageSpec pngSpec(const picture::Raster<T>& picture, double ppi)
{
    oiio::ImageSpec spec(picture.width, picture.height, picture.channels, oiio::BaseTypeFromC<T>::value);
    spec.attribute("oiio:ColorSpace", "sRGB");
    spec.attribute("oiio:UnassociatedAlpha", 1);  // PNG is straight; without this the library would divide by alpha
    spec.attribute("XResolution", static_cast<float>(ppi));
    spec.attribute("YResolution", static_cast<float>(ppi));
    spec.attribute("ResolutionUnit", "in");
    return spec;
}

template <class T>
base::Result<void> savePngAs(const picture::Raster<T>& picture, double ppi, const std::string& path)
{
    return base::replaceFileBy(path, [&](const std::string& temporary) -> base::Result<void> {
        const auto out = oiio::ImageOutput::create("png");
        if (!out || !out->open(temporary, pngSpec(picture, ppi)))
            return cannotWrite(path, out ? out->geterror() : "no PNG writer");
        if (!out->write_image(oiio::BaseTypeFromC<T>::value, picture.values.data()) || !out->close())
            return cannotWrite(path, out->geterror());
        return {};
    });
}

}  // namespace

base::Result<void> savePng(const picture::Raster<std::uint8_t>& picture, double ppi, const std::string& path)
{
    return savePngAs(picture, ppi, path);
}

base::Result<void> savePng(const picture::Raster<std::uint16_t>& picture, double ppi, const std::string& path)
{
    return savePngAs(picture, ppi, path);
}

base::Result<std::vector<std::uint8_t>> pngBytes(const picture::Raster<std::uint8_t>& picture, double ppi)
{
    std::vector<unsigned char> bytes;
    oiio::Filesystem::IOVecOutput memory(bytes);
    oiio::ImageSpec spec = pngSpec(picture, ppi);
    oiio::Filesystem::IOProxy* proxy = &memory;
    spec.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &proxy);
    const auto out = oiio::ImageOutput::create("png");
    if (!out || !out->open("preview.png", spec) || !out->write_image(oiio::TypeDesc::UINT8, picture.values.data()) || !out->close())
        return cannotWrite("preview.png", out ? out->geterror() : "no PNG writer");
    return bytes;
}

base::Result<void> saveExr(const picture::Raster<float>& picture, const picture::Passes& passes, const ExrWindow& window, double ppi,
                           const std::string& path)
{
    int channels = picture.channels;
    std::vector<std::string> names;
    const char* const kMain[] = {"R", "G", "B", "A"};
    for (int c = 0; c < picture.channels; ++c)
        names.emplace_back(kMain[c]);
    for (const picture::Pass& pass : passes) {
        for (const std::string& channel : pass.channels)
            names.push_back(pass.name + "." + channel);
        channels += pass.raster.channels;
    }
    oiio::ImageSpec spec(picture.width, picture.height, channels, oiio::TypeDesc::FLOAT);
    spec.channelnames = names;
    spec.alpha_channel = picture.channels == 4 ? 3 : -1;
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
    return base::replaceFileBy(path, [&](const std::string& temporary) -> base::Result<void> {
        const auto out = oiio::ImageOutput::create("openexr");
        if (!out || !out->open(temporary, spec))
            return cannotWrite(path, out ? out->geterror() : "no EXR writer");
        std::vector<float> line(static_cast<std::size_t>(picture.width) * channels);
        for (int y = 0; y < picture.height; ++y) {
            float* to = line.data();
            for (int x = 0; x < picture.width; ++x) {
                to = std::copy_n(picture.at(x, y), picture.channels, to);
                for (const picture::Pass& pass : passes)
                    to = std::copy_n(pass.raster.at(x, y), pass.raster.channels, to);
            }
            if (!out->write_scanline(window.dataY + y, 0, oiio::TypeDesc::FLOAT, line.data()))
                return cannotWrite(path, out->geterror());
        }
        if (!out->close())
            return cannotWrite(path, out->geterror());
        return {};
    });
}

}  // namespace files
