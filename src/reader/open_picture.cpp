#include "reader/open_picture.h"

#include <fmt/format.h>

#include <algorithm>

#include "reader/cut_off.h"

namespace reader {

namespace {

constexpr int kMostSide = 60000;  // pixels

// The library's name for what the bytes begin as.
const char* formatOf(const std::vector<std::uint8_t>& bytes)
{
    using namespace std::string_view_literals;
    const std::string_view begin(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 16));
    if (begin.starts_with("\x89PNG\r\n"sv))
        return "png";
    if (begin.starts_with("\xff\xd8\xff"sv))
        return "jpeg";
    if (begin.starts_with("II*\0"sv) || begin.starts_with("MM\0*"sv))
        return "tiff";
    if (begin.starts_with("RIFF"sv) && begin.substr(8, 4) == "WEBP"sv)
        return "webp";
    if (begin.starts_with("\x76\x2f\x31\x01"sv))
        return "openexr";
    if (begin.starts_with("#?RADIANCE"sv) || begin.starts_with("#?RGBE"sv))
        return "hdr";
    return nullptr;
}

}  // namespace

tl::unexpected<base::Error> badPicture(const std::string& why)
{
    return base::fail(base::ErrorCode::BadInput, "This picture cannot be read: " + why);
}

base::Result<OpenPicture> openPicture(const std::vector<std::uint8_t>& bytes, double mostPixels, bool alsoRadiance)
{
    const char* format = formatOf(bytes);
    if (!format || (std::string_view(format) == "hdr" && !alsoRadiance))
        return base::fail(base::ErrorCode::BadInput,
                          alsoRadiance ? "This is no HDR, EXR, PNG, JPEG, TIFF or WebP" : "This is no PNG, JPEG, TIFF, WebP or EXR");
    if (isCutOff(bytes))
        return base::fail(base::ErrorCode::BadInput, "The picture is cut off: its end is missing; copy it again");
    OIIO::attribute("threads", 1);
    OIIO::attribute("exr_threads", -1);
    OpenPicture picture{format,
                        std::make_unique<OIIO::Filesystem::IOMemReader>(const_cast<std::uint8_t*>(bytes.data()), bytes.size()),
                        OIIO::ImageInput::create(format),
                        {}};
    OIIO::ImageSpec wish;
    if (!picture.input || !picture.input->supports("ioproxy") || !picture.input->set_ioproxy(picture.memory.get()))
        return badPicture("its kind is not known");
    wish["oiio:UnassociatedAlpha"] = 1;
    if (!picture.input->open(std::string("picture.") + format, picture.spec, wish))
        return badPicture(picture.input->geterror());
    const OIIO::ImageSpec& spec = picture.spec;
    if (spec.width > kMostSide || spec.height > kMostSide || static_cast<double>(spec.width) * spec.height > mostPixels || spec.depth > 1)
        return base::fail(base::ErrorCode::TooLarge, fmt::format("The picture has {} x {} pixels; make it smaller than {} million in all",
                                                                 spec.width, spec.height, int(mostPixels / 1e6)));
    if (spec.width < 1 || spec.height < 1 || spec.nchannels < 1)
        return badPicture("it is empty");
    return picture;
}

}  // namespace reader
