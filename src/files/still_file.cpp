#include "files/still_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <filesystem>
#include <functional>

#include "files/credits.h"
#include "files/light_rows.h"
#include "files/pass_pictures.h"
#include "files/pdf_file.h"
#include "files/picture_file.h"
#include "render/camera.h"
#include "work/finish_properties.h"

namespace files {

namespace {

using work::FileFormat;

// Developed rows, some at a time from the top: each(rows, y0).
template <class Each>
base::Result<void> eachDeveloped(const LightSource& light, const finish::DevelopSettings& develop, const base::Progress& progress,
                                 Each each)
{
    const int top = light.shape.regionY, bottom = top + light.shape.regionHeight;
    return eachRows(light, finish::graphOf(develop, light.shape.width, light.shape.height).reach(), progress,
                    [&](const film::LightShares& rows, int y0, int y1) {
                        return each(finish::developRows(rows, develop, y0, y1, top, bottom), y0 - top);
                    });
}

PictureShape shapeOf(const LightSource& light, const finish::DevelopSettings& develop)
{
    return {light.shape.regionWidth, light.shape.regionHeight, develop.transparent ? 4 : 3};
}

// In the colours of the file.
picture::Raster<float> encoded(const StillSource& still, picture::Raster<float> rows)
{
    if (still.options.profile)
        still.options.profile->encode(rows);
    return rows;
}

// Those that are made whole have the credits in them from the start.
base::Result<Encoding> encodingOf(std::string_view format, const StillSource& still)
{
    Encoding encoding{still.options.quality, still.options.profile ? &still.options.profile->bytes() : nullptr, {}};
    if (format == "avif" || format == "jxl" || format == "webp") {
        auto xmp = xmpOf(still.credits);
        if (!xmp)
            return base::failed(xmp);
        encoding.xmp = std::move(*xmp);
    }
    return encoding;
}

template <const char* format>
base::Result<void> write8(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                          const base::Progress& progress)
{
    const FillRows<std::uint8_t> fill = [&](const AddRows<std::uint8_t>& add) {
        return eachDeveloped(still.light, develop, progress,
                             [&](picture::Raster<float> rows, int y) { return add(finish::to8Bits(encoded(still, std::move(rows)), y)); });
    };
    const auto encoding = encodingOf(format, still);
    return encoding ? savePicture(format, shapeOf(still.light, develop), ppi, *encoding, path, fill)
                    : base::Result<void>(base::failed(encoding));
}

template <const char* format>
base::Result<void> write16(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                           const base::Progress& progress)
{
    const FillRows<std::uint16_t> fill = [&](const AddRows<std::uint16_t>& add) {
        return eachDeveloped(still.light, develop, progress,
                             [&](picture::Raster<float> rows, int) { return add(finish::to16Bits(encoded(still, std::move(rows)))); });
    };
    const auto encoding = encodingOf(format, still);
    return encoding ? savePicture(format, shapeOf(still.light, develop), ppi, *encoding, path, fill)
                    : base::Result<void>(base::failed(encoding));
}

base::Result<void> writeTiff32(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                               const base::Progress& progress)
{
    const FillRows<float> fill = [&](const AddRows<float>& add) {
        return eachDeveloped(still.light, develop, progress,
                             [&](picture::Raster<float> rows, int) { return add(encoded(still, std::move(rows))); });
    };
    const auto encoding = encodingOf("tiff", still);
    return encoding ? savePicture("tiff", shapeOf(still.light, develop), ppi, *encoding, path, fill)
                    : base::Result<void>(base::failed(encoding));
}

constexpr char kPng[] = "png", kJpeg[] = "jpeg", kWebP[] = "webp", kAvif[] = "avif", kJxl[] = "jxl", kTiff[] = "tiff";

// A film with the passes that are asked for, some rows at a time.
base::Result<void> savePasses(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                              const base::Progress& progress)
{
    const film::FilmShape& shape = still.light.shape;
    const PassRows maker(still, develop, still.options.passes);
    const auto [pixels, named] = maker.first();
    return saveExr(channelsOf(pixels, named), shape.regionWidth, shape.regionHeight,
                   {shape.regionX, shape.regionY, shape.width, shape.height}, ppi, path, [&](const AddRows<float>& add) {
                       return eachRows(still.light, maker.halo(), progress, [&](film::LightShares& with, int y0, int y1) {
                           const auto [linear, passes] = maker.rows(with, y0, y1);
                           return add(joined(linear, passes, 0, y1 - y0));
                       });
                   });
}

base::Result<void> writeExr(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                            const base::Progress& progress)
{
    const film::FilmShape& s = still.light.shape;
    if (still.film)
        return savePasses(still, develop, ppi, path, progress);
    std::vector<std::string> channels{"R", "G", "B", "A"};
    for (const film::Entry& entry : s.entries)
        for (const char* const channel : {"R", "G", "B"})
            channels.push_back("light." + entry.name + "." + channel);
    const auto addRows = [&](const AddRows<float>& add) {
        return eachRows(still.light, 0, progress, [&](const film::LightShares& rows, int y0, int y1) {
            picture::Raster<float> lines(s.regionWidth, y1 - y0, static_cast<int>(channels.size()));
            for (int y = 0; y < lines.height; ++y)
                for (int x = 0; x < lines.width; ++x) {
                    const int row = y0 + y - rows.shape.regionY;
                    const base::Rgb mix = finish::mixed(rows.entries(x, row), develop);
                    float* to = lines.at(x, y);
                    *to++ = mix.x;
                    *to++ = mix.y;
                    *to++ = mix.z;
                    std::copy_n(rows.at(x, row), rows.stride(), to);
                }
            return add(lines);
        });
    };
    return saveExr(channels, s.regionWidth, s.regionHeight, {s.regionX, s.regionY, s.width, s.height}, ppi, path, addRows);
}

// Printed shapes on top of all others, which a PDF keeps as shapes; they go from the layers.
std::vector<PdfShape> takeShapes(finish::DevelopSettings& develop, const film::FilmShape& frame)
{
    const double pxPerPt = develop.widthPt > 0 ? frame.width / develop.widthPt : 1;
    // The frame's middle on the page.
    const double x = (frame.width / 2.0 - frame.regionX) / pxPerPt, y = (frame.regionY + frame.regionHeight - frame.height / 2.0) / pxPerPt;
    std::vector<PdfShape> shapes;
    const auto add = [&](const std::shared_ptr<const finish::FlatShape>& shape, base::Rgb colour, double dx, double dy, double scale,
                         double opacity) {
        if (shape && !shape->empty())
            shapes.push_back({*shape, x + dx, y + dy, scale, picture::encodeSrgb(colour), opacity});
    };
    for (; !develop.layers.empty(); develop.layers.pop_back()) {
        const finish::Layer& layer = develop.layers.back();
        if (layer.blend != finish::Blend::Normal || !layer.mask.isEverywhere())
            break;
        if (const auto* print = std::get_if<finish::Print>(&layer.what)) {
            add(print->shape, print->colour, 0, 0, 1, layer.strength);
        } else if (const auto* code = std::get_if<finish::Code>(&layer.what)) {
            add(code->bars, code->colour, code->x, code->y, code->size, layer.strength);
            add(code->field, code->paper, code->x, code->y, code->size, layer.strength);
        } else {
            break;
        }
    }
    std::ranges::reverse(shapes);
    return shapes;
}

base::Result<void> writePdf(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                            const base::Progress& progress)
{
    finish::DevelopSettings below = develop;
    const std::vector<PdfShape> over = takeShapes(below, still.light.shape);
    return savePdf(shapeOf(still.light, develop), ppi, over, still.credits, path, [&](const AddRows<std::uint8_t>& add) {
        return eachDeveloped(still.light, below, progress,
                             [&](const picture::Raster<float>& rows, int y) { return add(finish::to8Bits(rows, y)); });
    });
}

constexpr Exporter kExporters[] = {{FileFormat::Png8, ".png", 8, write8<kPng>},   {FileFormat::Png16, ".png", 16, write16<kPng>},
                                   {FileFormat::Jpeg, ".jpg", 8, write8<kJpeg>},  {FileFormat::WebP, ".webp", 8, write8<kWebP>},
                                   {FileFormat::Tiff8, ".tif", 8, write8<kTiff>}, {FileFormat::Tiff16, ".tif", 16, write16<kTiff>},
                                   {FileFormat::Exr, ".exr", 32, writeExr},       {FileFormat::Pdf, ".pdf", 8, writePdf},
                                   {FileFormat::Avif, ".avif", 8, write8<kAvif>}, {FileFormat::Tiff32, ".tif", 32, writeTiff32},
                                   {FileFormat::Jxl8, ".jxl", 8, write8<kJxl>},   {FileFormat::Jxl16, ".jxl", 16, write16<kJxl>}};

// As the table has it: other spellings mean the same.
std::string knownEnding(const std::string& path)
{
    const std::string ending = endingOf(path);
    return ending == ".jpeg" ? ".jpg" : ending == ".tiff" ? ".tif" : ending;
}

}  // namespace

std::span<const Exporter> exporters()
{
    return kExporters;
}

const Exporter& exporterOf(FileFormat format)
{
    return *std::find_if(std::begin(kExporters), std::end(kExporters), [&](const Exporter& e) { return e.format == format; });
}

base::Result<const Exporter*> exporterFor(const std::string& path, FileFormat format)
{
    const std::string ending = knownEnding(path);
    if (const Exporter& wished = exporterOf(format); wished.ending == ending)
        return &wished;
    std::string endings;
    for (const Exporter& e : kExporters) {
        if (e.ending == ending)
            return &e;
        if (endings.find(e.ending) == std::string::npos)
            endings += (endings.empty() ? "" : " or ") + std::string(e.ending);
    }
    return base::fail(base::ErrorCode::BadInput, fmt::format("A still is saved as {}, not \"{}\"; change the ending", endings, ending),
                      path);
}

FileFormat formatOf(const std::string& path, int bits)
{
    for (const Exporter& e : kExporters)
        if (e.bits == bits && e.ending == knownEnding(path))
            return e.format;
    const auto exporter = exporterFor(path, FileFormat::Png8);
    return exporter ? (*exporter)->format : FileFormat::Png8;
}

base::Result<std::vector<std::string>> passesNamed(const std::string& list, FileFormat format)
{
    std::vector<std::string> names;
    if (list.empty())
        return names;
    if (list == "all") {
        for (const char* name : kPassNames)
            if (format == FileFormat::Exr || std::ranges::find(kPassesOfExrAlone, std::string_view(name)) == std::end(kPassesOfExrAlone))
                names.emplace_back(name);
        return names;
    }
    for (std::size_t from = 0; from <= list.size();) {
        const std::size_t end = std::min(list.find(',', from), list.size());
        names.push_back(list.substr(from, end - from));
        if (std::ranges::find(kPassNames, names.back()) == std::end(kPassNames))
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("there is no pass \"{}\"; write all, or some of {}", names.back(), fmt::join(kPassNames, ",")));
        if (format != FileFormat::Exr && std::ranges::find(kPassesOfExrAlone, names.back()) != std::end(kPassesOfExrAlone))
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("a PNG cannot hold the pass \"{}\"; leave it out, or write an .exr", names.back()));
        from = end + 1;
    }
    return names;
}

base::Result<FileOptions> optionsOf(const work::Work& work, const work::Output& output)
{
    const auto profile = profileOf(work, output);
    if (!profile)
        return base::failed(profile);
    return FileOptions{output.quality, *profile, output.passes};
}

std::string endingOf(const std::string& path)
{
    std::string ending = std::filesystem::path(path).extension().string();
    for (char& c : ending)
        c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return ending;
}

double ppiFor(const work::SheetSize& sheet, int widthPx)
{
    return sheet.ppi * widthPx / sheet.widthPx();
}

base::Result<void> saveStill(const StillSource& still, const finish::DevelopSettings& develop, double ppi, FileFormat format,
                             const std::string& path, const base::Progress& progress)
{
    const auto exporter = exporterFor(path, format);
    if (!exporter)
        return tl::unexpected<base::Error>(exporter.error());
    finish::DevelopSettings own = develop;
    own.transparent = develop.transparent && work::hasCoverage((*exporter)->format);
    const bool beside = still.film && !still.options.passes.empty() && knownEnding(path) == ".png";
    const double mainShare = beside ? 1.0 / static_cast<double>(1 + still.options.passes.size()) : 1;
    auto written = (*exporter)->write(still, own, ppi, path, progress.split(0, mainShare));
    if (written && beside)
        written = savePassPictures(still, own, ppi, path, progress.split(mainShare, 1));
    // The others have none, or were written with it.
    constexpr FileFormat kAdded[] = {FileFormat::Png8,  FileFormat::Png16,  FileFormat::Jpeg,
                                     FileFormat::Tiff8, FileFormat::Tiff16, FileFormat::Tiff32};
    if (!written || std::ranges::find(kAdded, (*exporter)->format) == std::end(kAdded))
        return written;
    return writeCredits(still.credits, path);
}

}  // namespace files
