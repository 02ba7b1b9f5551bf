#include "files/credits.h"

#include <fmt/format.h>

#include <algorithm>
#include <exiv2/exiv2.hpp>

#include "base/file.h"

namespace files {

namespace {

void addText(Exiv2::XmpData& xmp, const char* key, const std::string& text)
{
    Exiv2::LangAltValue value;
    value.value_["x-default"] = text;
    xmp.add(Exiv2::XmpKey(key), &value);
}

void addTo(Exiv2::XmpData& xmp, const work::Credits& credits)
{
    static const bool s_ready = Exiv2::XmpParser::initialize();
    (void)s_ready;
    if (!credits.author.empty()) {
        const auto creator = Exiv2::Value::create(Exiv2::xmpSeq);
        creator->read(credits.author);
        xmp.add(Exiv2::XmpKey("Xmp.dc.creator"), creator.get());
    }
    if (!credits.licence.empty())
        addText(xmp, "Xmp.dc.rights", credits.licence);
    if (!credits.description.empty()) {
        addText(xmp, "Xmp.dc.description", credits.description);
        addText(xmp, "Xmp.iptc.AltTextAccessibility", credits.description);
    }
}

}  // namespace

base::Result<std::string> xmpOf(const work::Credits& credits)
{
    std::string packet;
    if (credits.none())
        return packet;
    try {
        Exiv2::XmpData xmp;
        addTo(xmp, credits);
        if (Exiv2::XmpParser::encode(packet, xmp, Exiv2::XmpParser::useCompactFormat) == 0)
            return packet;
    } catch (const Exiv2::Error&) {  // said below
    }
    return base::fail(base::ErrorCode::CannotWrite, "Author, licence and description cannot be written; look at them for odd characters");
}

base::Result<void> writeCredits(const work::Credits& credits, const std::string& path)
{
    if (credits.none())
        return {};
    try {
        const auto image = Exiv2::ImageFactory::open(path);
        image->readMetadata();
        Exiv2::XmpData xmp = image->xmpData();
        addTo(xmp, credits);
        image->setXmpData(xmp);
        image->writeMetadata();
    } catch (const Exiv2::Error& error) {
        return base::fail(
            base::ErrorCode::CannotWrite,
            fmt::format("Author, licence and description cannot be written into this picture ({}); the picture is there", error.what()),
            path);
    }
    return {};
}

base::Result<void> writeWebPProfile(const std::vector<std::uint8_t>& profile, int width, int height, bool hasAlpha, const std::string& path)
{
    using Bytes = std::vector<std::uint8_t>;
    constexpr std::size_t kHeader = 12, kExtended = 8 + 10;
    constexpr std::uint8_t kHasProfile = 0x20, kHasAlpha = 0x10;
    auto file = base::readFile(path);
    if (!file)
        return base::failed(file);
    Bytes& is = *file;
    const auto named = [&](std::size_t at, const char* name) {
        return is.size() >= at + 4 && std::equal(name, name + 4, is.begin() + static_cast<std::ptrdiff_t>(at));
    };
    if (!named(0, "RIFF") || !named(8, "WEBP") || is.size() < kHeader + kExtended)
        return base::fail(base::ErrorCode::CannotWrite, "The colour profile cannot be written: this is no WebP", path);
    const auto put = [](Bytes& to, std::size_t value, int bytes) {
        for (int i = 0; i < bytes; ++i)
            to.push_back(static_cast<std::uint8_t>(value >> (8 * i)));
    };
    Bytes made(is.begin(), is.begin() + kHeader);
    std::size_t rest = kHeader;
    if (named(kHeader, "VP8X")) {
        made.insert(made.end(), is.begin() + kHeader, is.begin() + kHeader + kExtended);
        made[kHeader + 8] |= kHasProfile;
        rest += kExtended;
    } else {
        for (const char c : {'V', 'P', '8', 'X'})
            made.push_back(static_cast<std::uint8_t>(c));
        put(made, 10, 4);
        put(made, static_cast<std::size_t>(kHasProfile | (hasAlpha ? kHasAlpha : 0)), 4);
        put(made, static_cast<std::size_t>(width - 1), 3);
        put(made, static_cast<std::size_t>(height - 1), 3);
    }
    for (const char c : {'I', 'C', 'C', 'P'})
        made.push_back(static_cast<std::uint8_t>(c));
    put(made, profile.size(), 4);
    made.insert(made.end(), profile.begin(), profile.end());
    if (profile.size() % 2 != 0)
        made.push_back(0);
    made.insert(made.end(), is.begin() + static_cast<std::ptrdiff_t>(rest), is.end());
    Bytes size;
    put(size, made.size() - 8, 4);
    std::copy(size.begin(), size.end(), made.begin() + 4);
    return base::replaceFile(path, made);
}

}  // namespace files
