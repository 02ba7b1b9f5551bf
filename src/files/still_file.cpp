#include "files/still_file.h"

#include <fmt/format.h>

#include <filesystem>

#include "files/credits.h"
#include "files/picture_file.h"
#include "film/passes.h"

namespace files {

namespace {

using work::FileFormat;

constexpr int kRowsTogether = 256;  // developed at a time

// Hands on rows y0 to before y1, some at a time from the top: each(shares, y0, y1). The shares hold as many rows more above and below as
// are asked for with `halo`, as far as the picture goes.
template <class Each>
base::Result<void> eachRows(const LightSource& light, int halo, const base::Progress& progress, Each each)
{
    const int top = light.shape.regionY, bottom = top + light.shape.regionHeight;
    film::LightShares rows;  // those that are still needed
    rows.shape = light.shape;
    rows.shape.regionHeight = 0;
    int band = 0;
    for (int y = top; y < bottom; y += kRowsTogether) {
        if (progress.stopRequested())
            return base::fail(base::ErrorCode::Stopped, "Stopped while the picture was written");
        const int end = std::min(y + kRowsTogether, bottom), last = std::min(end + halo, bottom);
        if (const int first = std::max(top, y - halo); first > rows.shape.regionY && rows.shape.regionHeight > 0)
            rows = rowsOf(rows, first, rows.shape.regionY + rows.shape.regionHeight);
        while (rows.shape.regionY + rows.shape.regionHeight < last && band < light.bands) {
            const auto part = light.get(band++);
            if (!part)
                return tl::unexpected<base::Error>(part.error());
            rows.append(*part);
        }
        if (auto done = each(rows, y, end); !done)
            return done;
        progress.set(static_cast<double>(end - top) / light.shape.regionHeight);
    }
    return {};
}

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

template <const char* format>
base::Result<void> write8(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                          const base::Progress& progress)
{
    return savePicture(format, shapeOf(still.light, develop), ppi, still.quality, path, [&](const AddRows<std::uint8_t>& add) {
        return eachDeveloped(still.light, develop, progress,
                             [&](const picture::Raster<float>& rows, int y) { return add(finish::to8Bits(rows, y)); });
    });
}

template <const char* format>
base::Result<void> write16(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                           const base::Progress& progress)
{
    return savePicture(format, shapeOf(still.light, develop), ppi, still.quality, path, [&](const AddRows<std::uint16_t>& add) {
        return eachDeveloped(still.light, develop, progress,
                             [&](const picture::Raster<float>& rows, int) { return add(finish::to16Bits(rows)); });
    });
}

constexpr char kPng[] = "png", kJpeg[] = "jpeg", kWebP[] = "webp", kTiff[] = "tiff";

// All passes of a film, mixed as told.
base::Result<void> savePasses(const film::Film& film, const film::LightShares& shares, const finish::DevelopSettings& develop, double ppi,
                              const std::string& path)
{
    const film::FilmShape& shape = film.shape();
    picture::Raster<float> linear(shape.regionWidth, shape.regionHeight, 4);
    const picture::Passes passes = film::passesFrom(film, shares);
    for (int y = 0; y < linear.height; ++y)
        for (int x = 0; x < linear.width; ++x) {
            const base::Rgb light = finish::mixed(shares.entries(x, y), develop);
            float* out = linear.at(x, y);
            out[0] = light.x;
            out[1] = light.y;
            out[2] = light.z;
            out[3] = shares.alpha(x, y);
        }
    return saveExr(linear, passes, {shape.regionX, shape.regionY, shape.width, shape.height}, ppi, path);
}

base::Result<void> writeExr(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                            const base::Progress& progress)
{
    const film::FilmShape& s = still.light.shape;
    if (still.film) {
        const auto shares = still.light.get(0);
        if (!shares)
            return tl::unexpected<base::Error>(shares.error());
        return savePasses(*still.film, *shares, develop, ppi, path);
    }
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

constexpr Exporter kExporters[] = {{FileFormat::Png8, ".png", 8, write8<kPng>},   {FileFormat::Png16, ".png", 16, write16<kPng>},
                                   {FileFormat::Jpeg, ".jpg", 8, write8<kJpeg>},  {FileFormat::WebP, ".webp", 8, write8<kWebP>},
                                   {FileFormat::Tiff8, ".tif", 8, write8<kTiff>}, {FileFormat::Tiff16, ".tif", 16, write16<kTiff>},
                                   {FileFormat::Exr, ".exr", 32, writeExr}};

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
    const auto written = (*exporter)->write(still, own, ppi, path, progress);
    if (!written || (*exporter)->format == FileFormat::Exr)
        return written;
    return writeCredits(still.credits, path);
}

}  // namespace files
