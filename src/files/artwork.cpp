#include "files/artwork.h"

#include <algorithm>
#include <filesystem>

#include "base/file.h"
#include "files/reader_process.h"

namespace files {

namespace {

constexpr std::size_t kMostOutput = std::size_t{256} << 20;

}  // namespace

std::optional<ArtworkKind> artworkKindOf(const outline::Bytes& bytes)
{
    const std::string_view begin(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 4096));
    if (begin.substr(0, 1024).find("%PDF-") != std::string_view::npos)
        return ArtworkKind::Pdf;
    if (begin.starts_with("\x1f\x8b") || begin.find("<svg") != std::string_view::npos || begin.find(":svg") != std::string_view::npos)
        return ArtworkKind::Svg;  // packed or plain
    using namespace std::string_view_literals;
    for (const std::string_view magic : {"\x89PNG\r\n"sv, "\xff\xd8\xff"sv, "II*\0"sv, "MM\0*"sv})
        if (begin.starts_with(magic))
            return ArtworkKind::Picture;
    return std::nullopt;
}

base::Result<work::ArtworkFile> readArtworkFile(const std::string& path, int page, const base::Progress& progress)
{
    auto bytes = base::readFile(path, kMostReadBytes);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    auto file = artworkFromBytes(std::make_shared<const outline::Bytes>(std::move(*bytes)), path, page, progress);
    if (file) {
        file->name = std::filesystem::path(path).filename().string();
        file->path = path;
    }
    return file;
}

namespace {

// What the reader makes of the bytes.
base::Result<std::string> readBy(ArtworkKind kind, const outline::Bytes& bytes, int page, const std::string& name,
                                 const base::Progress& progress)
{
    const ReaderLimits limits{"artwork", 10, 5, kMostOutput};
    switch (kind) {
    case ArtworkKind::Pdf:
        return readByProcess(kArtworkReader, {"pdf", std::to_string(page)}, bytes, limits, name, progress);
    case ArtworkKind::Picture:
        return readByProcess(kArtworkReader, {"picture"}, bytes, limits, name, progress);
    case ArtworkKind::Svg:
        break;
    }
    return readByProcess(kArtworkReader, {"svg"}, bytes, limits, name, progress);
}

base::Result<work::ArtworkFile> readWhole(outline::SharedBytes bytes, int page, const std::string& name, const base::Progress& progress)
{
    const auto kind = artworkKindOf(*bytes);
    if (!kind)
        return base::fail(base::ErrorCode::BadInput, "This is no SVG, PDF, PNG, JPEG or TIFF", name);
    const auto text = readBy(*kind, *bytes, page, name, progress);
    if (!text)
        return tl::unexpected<base::Error>(text.error());
    work::ArtworkFile file{name, {}, std::move(bytes), page, {}, {}, {}};
    if (*kind == ArtworkKind::Picture) {
        auto greys = outline::greysFromPgm(*text, name);
        if (!greys)
            return tl::unexpected<base::Error>(greys.error());
        file.trace.threshold = outline::usualThreshold(*greys);
        file.trace.specks = std::max(file.trace.specks, static_cast<int>(greys->values.size() / 100000));
        file.drawing = outline::traced(*greys, file.trace);
        file.greys = std::make_shared<const outline::Bytes>(text->begin(), text->end());
    } else {
        auto drawing = outline::drawingFromSvg(*text, name);
        if (!drawing)
            return tl::unexpected<base::Error>(drawing.error());
        file.drawing = std::move(*drawing);
    }
    return file;
}

}  // namespace

base::Result<outline::Drawing> readArtwork(outline::SharedBytes bytes, int page, const std::string& name, const base::Progress& progress)
{
    return readWhole(std::move(bytes), page, name, progress).map([](work::ArtworkFile file) { return std::move(file.drawing); });
}

base::Result<work::ArtworkFile> artworkFromBytes(outline::SharedBytes bytes, const std::string& name, int page,
                                                 const base::Progress& progress)
{
    auto file = readWhole(std::move(bytes), page, name, progress);
    if (file && file->drawing.shapes.empty()) {
        const auto& notes = file->drawing.notes;
        return base::fail(base::ErrorCode::BadInput,
                          notes.empty() ? "The artwork shows nothing" : "The artwork shows nothing: " + notes.front().message, name);
    }
    return file;
}

}  // namespace files
