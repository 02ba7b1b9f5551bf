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

}  // namespace

base::Result<void> writeCredits(const work::Credits& credits, const std::string& path)
{
    if (credits.none())
        return {};
    try {
        static const bool s_ready = Exiv2::XmpParser::initialize();
        (void)s_ready;
        const auto image = Exiv2::ImageFactory::open(path);
        image->readMetadata();
        Exiv2::XmpData xmp = image->xmpData();
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
