#include "files/still_file.h"

#include <fmt/format.h>

#include <filesystem>

#include "files/picture_file.h"
#include "film/passes.h"

namespace files {

namespace {

using work::FileFormat;

constexpr int kRowsTogether = 256;  // developed at a time

// Hands on rows, some at a time, from the top.
template <class Each>
base::Result<void> eachRows(const LightSource& light, const base::Progress& progress, Each each)
{
    for (int band = 0; band < light.bands; ++band) {
        const auto part = light.get(band);
        if (!part)
            return tl::unexpected<base::Error>(part.error());
        const film::FilmShape& s = part->shape;
        for (int y = s.regionY; y < s.regionY + s.regionHeight; y += kRowsTogether) {
            if (progress.stopRequested())
                return base::fail(base::ErrorCode::Stopped, "Stopped while the picture was written");
            if (auto done = each(rowsOf(*part, y, std::min(y + kRowsTogether, s.regionY + s.regionHeight))); !done)
                return done;
            progress.set(static_cast<double>(y - light.shape.regionY) / light.shape.regionHeight);
        }
    }
    return {};
}

PictureShape shapeOf(const LightSource& light, const finish::DevelopSettings& develop)
{
    return {light.shape.regionWidth, light.shape.regionHeight, develop.transparent ? 4 : 3};
}

base::Result<void> writePng8(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                             const base::Progress& progress)
{
    return savePng8(shapeOf(still.light, develop), ppi, path, [&](const AddRows<std::uint8_t>& add) {
        return eachRows(still.light, progress, [&](const film::LightShares& rows) {
            return add(finish::to8Bits(finish::develop(rows, develop), rows.shape.regionY - still.light.shape.regionY));
        });
    });
}

base::Result<void> writePng16(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                              const base::Progress& progress)
{
    return savePng16(shapeOf(still.light, develop), ppi, path, [&](const AddRows<std::uint16_t>& add) {
        return eachRows(still.light, progress,
                        [&](const film::LightShares& rows) { return add(finish::to16Bits(finish::develop(rows, develop))); });
    });
}

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
    return saveExr(channels, s.regionWidth, s.regionHeight, {s.regionX, s.regionY, s.width, s.height}, ppi, path,
                   [&](const AddRows<float>& add) {
                       return eachRows(still.light, progress, [&](const film::LightShares& rows) {
                           picture::Raster<float> lines(s.regionWidth, rows.shape.regionHeight, static_cast<int>(channels.size()));
                           for (int y = 0; y < lines.height; ++y)
                               for (int x = 0; x < lines.width; ++x) {
                                   const base::Rgb mix = finish::mixed(rows.entries(x, y), develop);
                                   float* to = lines.at(x, y);
                                   *to++ = mix.x;
                                   *to++ = mix.y;
                                   *to++ = mix.z;
                                   std::copy_n(rows.at(x, y), rows.stride(), to);
                               }
                           return add(lines);
                       });
                   });
}

constexpr Exporter kExporters[] = {
    {FileFormat::Png8, ".png", 8, writePng8}, {FileFormat::Png16, ".png", 16, writePng16}, {FileFormat::Exr, ".exr", 32, writeExr}};

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
    const std::string ending = endingOf(path);
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
    FileFormat format = FileFormat::Png8;
    for (const Exporter& e : kExporters)
        if (e.bits == bits)
            format = e.format;
    const auto exporter = exporterFor(path, format);
    return exporter ? (*exporter)->format : format;
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
    return (*exporter)->write(still, develop, ppi, path, progress);
}

}  // namespace files
