#include "files/credits.h"

#include <fmt/format.h>

#include <exiv2/exiv2.hpp>

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

}  // namespace files
