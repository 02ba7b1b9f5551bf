#include "files/pass_pictures.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>

#include "base/file.h"
#include "files/light_rows.h"
#include "files/picture_file.h"
#include "film/passes.h"
#include "outline/trace.h"
#include "picture/colour.h"
#include "render/camera.h"
#include "render/sampler.h"
#include "work/finish_properties.h"

namespace files {

namespace {

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
                alone.emplace_back(fmt::format("layer.{}.{}", i + 1, work::Kinds<work::LayerWhat>::names[layer.what.index()].name),
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

// How a pass becomes a picture.
struct Shown {
    float near = 0, far = 1;  // of depth
};

// Of one pixel; returns how many channels there are.
int show(const picture::Pass& pass, const float* from, const Shown& shown, float* to)
{
    const std::size_t channels = pass.channels.size();
    if (pass.name == "ids") {
        const auto number = [&](int i) { return static_cast<std::uint32_t>(from[i]); };
        const std::uint32_t bits = render::mixBits(number(0) + render::mixBits(number(1) + render::mixBits(number(2))));
        for (int c = 0; c < 3; ++c)
            to[c] = from[0] + from[1] + from[2] > 0 ? 0.2f + 0.8f * static_cast<float>((bits >> (8 * c)) & 0xff) / 255 : 0;
        return 3;
    }
    if (pass.name == "normal") {
        for (int c = 0; c < 3; ++c)
            to[c] = 0.5f + 0.5f * from[c];
        return 3;
    }
    if (channels == 1) {
        *to = pass.name != "depth" ? *from : *from > 0 ? 1 - (*from - shown.near) / std::max(1e-6f, shown.far - shown.near) : 0;
        return 1;
    }
    const float alpha = channels == 4 ? from[3] : 1;
    for (int c = 0; c < 3; ++c)
        to[c] = alpha > 0 ? picture::encodeSrgb(from[c] / alpha) : 0;
    to[3] = alpha;
    return static_cast<int>(channels);
}

Shown depthsOf(const film::Film& film)
{
    const film::FilmShape& s = film.shape();
    Shown shown{std::numeric_limits<float>::max(), 0};
    for (int y = s.regionY; y < s.regionY + s.regionHeight; ++y)
        for (int x = s.regionX; x < s.regionX + s.regionWidth; ++x) {
            const film::Film::Pixel pixel = film.at(x, y);
            if (const float hits = pixel.halves[0]->alpha + pixel.halves[1]->alpha; hits > 0) {
                const float depth = (pixel.halves[0]->depth + pixel.halves[1]->depth) / hits;
                shown = {std::min(shown.near, depth), std::max(shown.far, depth)};
            }
        }
    return shown;
}

// Edge lines as shapes: those of the finish in their width and colour, or hairlines of all edges where it has none.
base::Result<void> saveLinesDrawing(const StillSource& still, const finish::DevelopSettings& develop, const std::string& path,
                                    const base::Progress& progress)
{
    const film::FilmShape& shape = still.light.shape;
    const double ptPerPx = develop.widthPt > 0 ? develop.widthPt / shape.width : 1;
    outline::Drawing drawing{shape.regionWidth * ptPerPx, shape.regionHeight * ptPerPx, {}, {}};
    std::vector<finish::Layer> layers;
    std::ranges::copy_if(develop.layers, std::back_inserter(layers),
                         [](const finish::Layer& layer) { return std::holds_alternative<finish::Lines>(layer.what); });
    if (layers.empty())
        layers.push_back({1, finish::Blend::Normal, {}, finish::Lines{1.5, {0, 0, 0}, {}, true, true}});
    for (finish::Layer& layer : layers) {
        layer.strength = 1;
        const finish::DevelopSettings alone = finish::aloneOf(develop, layer);
        outline::Greys greys{shape.regionWidth, shape.regionHeight, {}};
        const int top = shape.regionY, bottom = top + shape.regionHeight;
        auto made =
            eachRows(still.light, finish::graphOf(alone, shape.width, shape.height).reach(), progress,
                     [&](film::LightShares& with, int y0, int y1) -> base::Result<void> {
                         if (with.ids.empty())
                             film::addIds(with, *still.film, still.camera ? render::viewpointOf(*still.camera) : film::Viewpoint());
                         const auto rows = finish::layerRows(with, alone, y0, y1, top, bottom);
                         for (std::size_t i = 3; i < rows.values.size(); i += 4)
                             greys.values.push_back(static_cast<std::uint8_t>(std::lround(255 * std::clamp(rows.values[i], 0.0f, 1.0f))));
                         return {};
                     });
        if (!made)
            return made;
        outline::TraceSettings settings;
        settings.inverse = true;
        const base::Rgb colour = picture::encodeSrgb(std::get<finish::Lines>(layer.what).colour);
        for (outline::DrawnShape& line : outline::traced(greys, settings).shapes) {
            line.id = fmt::format("s{}", drawing.shapes.size() + 1);
            for (const float channel : {colour.x, colour.y, colour.z})
                line.colour = line.colour << 8 | static_cast<std::uint32_t>(std::lround(255 * std::clamp(channel, 0.0f, 1.0f)));
            line.colour &= 0xffffff;
            for (outline::CurveContour& contour : line.contours)
                for (outline::Curve& curve : contour)
                    for (base::Vec2& at : curve.p)
                        at = at * ptPerPx;
            drawing.shapes.push_back(std::move(line));
        }
    }
    return base::replaceFile(path, outline::svgOf(drawing));
}

}  // namespace

PassRows::PassRows(const StillSource& still, const finish::DevelopSettings& develop, const std::vector<std::string>& names)
    : m_still(still),
      m_develop(develop),
      m_names(names),
      m_alone(layersAlone(still, develop, [this](std::string_view name) { return wants(name); }))
{
    const film::FilmShape& s = still.light.shape;
    if (wants("finish"))
        m_halo = finish::graphOf(develop, s.width, s.height).reach();
    for (const auto& [_, settings] : m_alone)
        m_halo = std::max(m_halo, finish::graphOf(settings, s.width, s.height).reach());
}

bool PassRows::wants(std::string_view name) const
{
    return m_names.empty() || std::ranges::find(m_names, name) != m_names.end();
}

PassRows::Made PassRows::rows(film::LightShares& with, int y0, int y1) const
{
    const film::FilmShape& shape = m_still.light.shape;
    const int top = shape.regionY, end = std::min(top + shape.regionHeight, with.shape.regionY + with.shape.regionHeight);
    if (with.ids.empty())
        film::addIds(with, *m_still.film, m_still.camera ? render::viewpointOf(*m_still.camera) : film::Viewpoint());
    const film::LightShares rows = rowsOf(with, y0, y1);
    picture::Passes passes = film::passesFrom(*m_still.film, rows);
    if (m_still.camera)
        addPosition(passes, rows.shape, *m_still.camera);
    std::erase_if(passes, [&](const picture::Pass& pass) {
        return !wants(pass.name.starts_with("light.") ? "lights" : pass.name.starts_with("coverage") ? "coverage" : pass.name);
    });
    if (wants("finish"))
        passes.push_back(asLight("finish", finish::developRows(with, m_develop, y0, y1, top, end)));
    for (const auto& [name, settings] : m_alone)
        passes.push_back(asLight(name, finish::layerRows(with, settings, y0, y1, top, end)));
    picture::Raster<float> linear(rows.shape.regionWidth, y1 - y0, 4);
    for (int y = 0; y < linear.height; ++y)
        for (int x = 0; x < linear.width; ++x) {
            const base::Rgb light = finish::mixed(rows.entries(x, y), m_develop);
            std::copy_n(std::array{light.x, light.y, light.z, rows.alpha(x, y)}.begin(), 4, linear.at(x, y));
        }
    return {std::move(linear), std::move(passes)};
}

PassRows::Made PassRows::first() const
{
    film::FilmShape line = m_still.light.shape;
    line.regionHeight = 1;
    film::LightShares nothing(line);
    return rows(nothing, line.regionY, line.regionY + 1);
}

base::Result<void> savePassPictures(const StillSource& still, const finish::DevelopSettings& develop, double ppi, const std::string& path,
                                    const base::Progress& progress)
{
    const Shown shown = depthsOf(*still.film);
    const film::FilmShape& shape = still.light.shape;
    const std::string stem = path.substr(0, path.size() - endingOf(path).size());
    for (const std::string& name : still.options.passes) {
        if (std::ranges::find(kPassesOfExrAlone, name) != std::end(kPassesOfExrAlone))
            continue;
        // One after the other: all of them at once would take many times the picture's memory.
        const PassRows maker(still, develop, {name});
        const picture::Passes named = maker.first().second;
        const auto done = static_cast<double>(&name - still.options.passes.data()),
                   each = 1.0 / static_cast<double>(still.options.passes.size());
        for (std::size_t k = 0; k < named.size(); ++k) {
            float room[4];
            const std::vector<float> nothing(named[k].channels.size());
            const int channels = show(named[k], nothing.data(), shown, room);
            const FillRows<std::uint16_t> fill = [&](const AddRows<std::uint16_t>& add) {
                return eachRows(still.light, maker.halo(), progress.split(done * each, (done + 1) * each),
                                [&](film::LightShares& with, int y0, int y1) {
                                    const picture::Pass pass = std::move(maker.rows(with, y0, y1).second[k]);
                                    picture::Raster<float> rows(pass.raster.width, pass.raster.height, channels);
                                    for (int y = 0; y < rows.height; ++y)
                                        for (int x = 0; x < rows.width; ++x)
                                            (void)show(pass, pass.raster.at(x, y), shown, rows.at(x, y));
                                    return add(finish::to16Bits(rows));
                                });
            };
            const std::string file = stem + "." + named[k].name + ".png";
            if (auto saved = savePicture("png", {shape.regionWidth, shape.regionHeight, channels}, ppi, {}, file, fill); !saved)
                return saved;
        }
        if (name == "lines")
            if (auto drawn = saveLinesDrawing(still, develop, stem + ".lines.svg", base::Progress(progress.stopToken())); !drawn)
                return drawn;
    }
    return {};
}

}  // namespace files
