#include "files/still_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <filesystem>
#include <functional>

#include "files/credits.h"
#include "files/pdf_file.h"
#include "files/picture_file.h"
#include "film/passes.h"
#include "render/camera.h"
#include "work/finish_properties.h"

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

constexpr char kPng[] = "png", kJpeg[] = "jpeg", kWebP[] = "webp", kAvif[] = "avif", kTiff[] = "tiff";

// Where what is seen lies in the world, as the middle of a pixel looks at it.
void addPosition(picture::Passes& passes, const film::FilmShape& rows, const render::Camera& camera)
{
    const auto depth = std::ranges::find(passes, "depth", &picture::Pass::name);
    picture::Raster<float> position(rows.regionWidth, rows.regionHeight, 3);
    for (int y = 0; y < position.height; ++y)
        for (int x = 0; x < position.width; ++x)
            if (const float far = *depth->raster.at(x, y); far > 0) {
                const render::Ray ray =
                    render::cameraRay(camera, (rows.regionX + x + 0.5) / rows.width, (rows.regionY + y + 0.5) / rows.height);
                const base::Vec3f at = ray.origin + ray.direction * far;
                std::copy_n(std::array{at.x, at.y, at.z}.begin(), 3, position.at(x, y));
            }
    passes.push_back({"position", {"X", "Y", "Z"}, std::move(position)});
}

// Encoded colour with straight alpha, or with none, as light.
picture::Pass asLight(std::string name, const picture::Raster<float>& encoded)
{
    picture::Pass pass{std::move(name), {"R", "G", "B", "A"}, picture::Raster<float>(encoded.width, encoded.height, 4)};
    for (int y = 0; y < encoded.height; ++y)
        for (int x = 0; x < encoded.width; ++x) {
            const float *from = encoded.at(x, y), alpha = encoded.channels == 4 ? from[3] : 1;
            float* to = pass.raster.at(x, y);
            for (int c = 0; c < 3; ++c)
                to[c] = picture::decodeSrgb(from[c]) * alpha;
            to[3] = alpha;
        }
    return pass;
}

// Layers as they are asked for, each by itself.
std::vector<std::pair<std::string, finish::DevelopSettings>> layersAlone(const StillSource& still, const finish::DevelopSettings& develop,
                                                                         const std::function<bool(std::string_view)>& wanted)
{
    std::vector<std::pair<std::string, finish::DevelopSettings>> alone;
    if (wanted("layers"))
        for (std::size_t i = 0; i < develop.layers.size(); ++i)
            if (const finish::Layer& layer = develop.layers[i]; finish::standsAlone(layer))
                alone.emplace_back(
                    fmt::format("layer.{}.{}", i + 1, work::Kinds<decltype(work::Layer::what)>::names[layer.what.index()].name),
                    finish::aloneOf(develop, layer));
    if (wanted("lines")) {
        finish::Lines lines;
        lines.width = develop.widthPt > 0 ? develop.widthPt / still.light.shape.width : 1;
        lines.letters = lines.parts = true;
        finish::Layer layer;
        layer.what = lines;
        alone.emplace_back("lines", finish::aloneOf(develop, layer));
    }
    return alone;
}

// A film with the passes that are asked for, some rows at a time.
base::Result<void> savePasses(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                              const base::Progress& progress)
{
    const film::FilmShape& shape = still.light.shape;
    const int top = shape.regionY, bottom = top + shape.regionHeight;
    const auto wanted = [&](std::string_view name) {
        return still.passes.empty() || std::ranges::find(still.passes, name) != still.passes.end();
    };
    const auto isWanted = [&](const picture::Pass& pass) {
        return wanted(pass.name.starts_with("light.") ? "lights" : pass.name.starts_with("coverage") ? "coverage" : pass.name);
    };
    const auto alone = layersAlone(still, develop, wanted);
    int halo = wanted("finish") ? finish::graphOf(develop, shape.width, shape.height).reach() : 0;
    for (const auto& [_, settings] : alone)
        halo = std::max(halo, finish::graphOf(settings, shape.width, shape.height).reach());
    const auto rowsFrom = [&](film::LightShares& with, int y0, int y1, int end) {
        if (with.ids.empty())
            film::addIds(with, *still.film, still.camera ? render::viewpointOf(*still.camera) : film::Viewpoint());
        const film::LightShares rows = rowsOf(with, y0, y1);
        picture::Passes passes = film::passesFrom(*still.film, rows);
        if (still.camera)
            addPosition(passes, rows.shape, *still.camera);
        std::erase_if(passes, [&](const picture::Pass& pass) { return !isWanted(pass); });
        if (wanted("finish"))
            passes.push_back(asLight("finish", finish::developRows(with, develop, y0, y1, top, end)));
        for (const auto& [name, settings] : alone)
            passes.push_back(asLight(name, finish::layerRows(with, settings, y0, y1, top, end)));
        picture::Raster<float> linear(rows.shape.regionWidth, y1 - y0, 4);
        for (int y = 0; y < linear.height; ++y)
            for (int x = 0; x < linear.width; ++x) {
                const base::Rgb light = finish::mixed(rows.entries(x, y), develop);
                std::copy_n(std::array{light.x, light.y, light.z, rows.alpha(x, y)}.begin(), 4, linear.at(x, y));
            }
        return std::pair(std::move(linear), std::move(passes));
    };
    film::FilmShape line = shape;
    line.regionHeight = 1;
    film::LightShares nothing(line);
    const auto [pixels, named] = rowsFrom(nothing, top, top + 1, top + 1);  // for the names
    return saveExr(channelsOf(pixels, named), shape.regionWidth, shape.regionHeight,
                   {shape.regionX, shape.regionY, shape.width, shape.height}, ppi, path, [&](const AddRows<float>& add) {
                       return eachRows(still.light, halo, progress, [&](film::LightShares& with, int y0, int y1) {
                           const auto [linear, passes] = rowsFrom(with, y0, y1, bottom);
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
                                   {FileFormat::Avif, ".avif", 8, write8<kAvif>}};

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

base::Result<std::vector<std::string>> passesNamed(const std::string& list)
{
    std::vector<std::string> names;
    if (list == "all")
        return names;
    for (std::size_t from = 0; from <= list.size();) {
        const std::size_t end = std::min(list.find(',', from), list.size());
        names.push_back(list.substr(from, end - from));
        if (std::ranges::find(kPassNames, names.back()) == std::end(kPassNames))
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("there is no pass \"{}\"; write all, or some of {}", names.back(), fmt::join(kPassNames, ",")));
        from = end + 1;
    }
    return names;
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
    constexpr FileFormat kWithoutXmp[] = {FileFormat::Exr, FileFormat::Pdf, FileFormat::Avif};
    if (!written || std::ranges::find(kWithoutXmp, (*exporter)->format) != std::end(kWithoutXmp))
        return written;
    return writeCredits(still.credits, path);
}

}  // namespace files
