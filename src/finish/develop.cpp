#include "finish/develop.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "finish/layer_steps.h"
#include "render/sampler.h"

namespace finish {

namespace {

constexpr float kScreenWhite = 1 + 1.0f / 255;  // a step over 1, so that white paper is not marked for its rounding

// What is seen of a covered place: light without coverage, through the view transform; still linear.
Rgb throughView(Rgb light, float alpha, const DevelopSettings& s)
{
    return picture::applyViewTransform(light * (1 / alpha), s.viewTransform);
}

bool showsLightBehind(const DevelopSettings& s)
{
    return s.behind.kind == Behind::Kind::Light && !s.transparent && !s.desk.empty();
}

// Where nothing is hit there is light too: `exposure` is that of the light so far.
void addBehind(Rgb& light, float& alpha, double u, double v, const DevelopSettings& s, float exposure)
{
    if (alpha < 1) {
        light += s.behind.lightAt(u, v, s.desk) * (exposure * (1 - alpha));
        alpha = 1;
    }
}

// Calls each(x, y in the region, means of the entries, coverage) for every pixel.
template <class Each>
void forPixels(const film::LightShares& shares, Each each)
{
    base::parallelFor(static_cast<std::size_t>(shares.shape.regionHeight), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < shares.shape.regionWidth; ++x)
            each(x, y, shares.entries(x, y), shares.alpha(x, y));
    });
}

}  // namespace

Rgb mixed(const Rgb* entries, const DevelopSettings& s)
{
    Rgb sum;
    for (std::size_t i = 0; i < s.desk.size(); ++i)
        sum += entries[i] * s.desk[i];
    return s.exposureStops == 0 ? sum : sum * std::exp2(static_cast<float>(s.exposureStops));
}

Rgb shown(Rgb light, float alpha, const DevelopSettings& s, bool quick)
{
    Rgb seen;
    if (alpha > 0)
        seen = throughView(light, alpha, s) * (s.transparent ? 1 : alpha);
    if (!s.transparent)
        seen += s.backdrop * (1 - alpha);
    return quick ? picture::encodeSrgbQuickly(seen) : picture::encodeSrgb(seen);
}

Rgb shownAt(Rgb light, float alpha, double u, double v, double pixel, const DevelopSettings& s, bool quick)
{
    if (showsLightBehind(s)) {
        addBehind(light, alpha, u, v, s, std::exp2(static_cast<float>(s.exposureStops)));
    } else if (s.behind.isTyped() && !s.transparent && alpha < 1) {
        DevelopSettings here;
        here.viewTransform = s.viewTransform;
        here.backdrop = s.behind.at(u, v, pixel);
        return shown(light, alpha, here, quick);
    }
    return shown(light, alpha, s, quick);
}

bool DevelopSettings::needsIds() const
{
    return std::ranges::any_of(layers, [](const Layer& layer) { return planesOf(layer) > 0; });
}

Rgb developed(const Rgb* entries, float alpha, const DevelopSettings& s)
{
    return shown(alpha > 0 ? mixed(entries, s) : Rgb{}, alpha, s);
}

film::Viewing viewingOf(const DevelopSettings& settings)
{
    film::Viewing viewing{settings.desk, [settings](Rgb light, float alpha) { return shown(light, alpha, settings); }};
    for (Rgb& factor : viewing.desk)
        factor *= std::exp2(static_cast<float>(settings.exposureStops));
    return viewing;
}

namespace {

constexpr int kRowsTogether = 16;  // that go through all steps: they stay in the processor's cache

FrameSize frameOf(const DevelopSettings& s, int width, int height)
{
    return {width, height, s.widthPt > 0 ? width / s.widthPt : 1};
}

// Calls each(input pixel, output pixel, x, y) for a step that looks at its own pixel alone.
template <class Each>
Step pointwise(int input, int channels, Each each)
{
    return {{input}, 0, channels, [each](std::span<const Image* const> in, Image& out) {
                for (int y = out.area.y0; y < out.area.y1; ++y)
                    for (int x = out.area.x0; x < out.area.x1; ++x)
                        each(in[0]->at(x, y), out.at(x, y), x, y);
            }};
}

// The lights mixed at the desk, before the first step.
Image mixedLight(const film::LightShares& shares, const DevelopSettings& s, const Area& area)
{
    DevelopSettings atDesk;
    atDesk.desk = s.desk;
    const bool hasLight = showsLightBehind(s);
    int planes = 0;
    for (const Layer& layer : s.layers)
        planes += planesOf(layer);
    Image image(area, 4 + planes);
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x) {
            const int column = x - shares.shape.regionX, row = y - shares.shape.regionY;
            float alpha = shares.alpha(column, row);
            Rgb light = alpha > 0 ? mixed(shares.entries(column, row), atDesk) : Rgb{};
            if (hasLight)
                addBehind(light, alpha, (x + 0.5) / shares.shape.width, (y + 0.5) / shares.shape.height, s, 1);
            float* out = image.at(x, y);
            out[0] = light.x;
            out[1] = light.y;
            out[2] = light.z;
            out[3] = alpha;
            if (planes > 0 && !shares.ids.empty()) {
                float* to = out + 4;
                for (const Layer& layer : s.layers) {
                    fillPlanes(layer, shares.idsAt(column, row), to);
                    to += planesOf(layer);
                }
            }
        }
    return image;
}

}  // namespace

Graph graphOf(const DevelopSettings& s, int width, int height)
{
    Graph graph;
    int last = Graph::kSource;
    if (s.exposureStops != 0)
        last =
            graph.add(pointwise(last, 4, [factor = std::exp2(static_cast<float>(s.exposureStops))](const float* in, float* out, int, int) {
                for (int c = 0; c < 3; ++c)
                    out[c] = in[c] * factor;
                out[3] = in[3];
            }));
    const FrameSize frame = frameOf(s, width, height);
    last = addHalos(graph, last, s.layers, frame);
    const bool hasCoverage = s.transparent || !s.layers.empty();
    last = graph.add(pointwise(last, hasCoverage ? 4 : 3, [s, width, height](const float* in, float* out, int x, int y) {
        const Rgb light{in[0], in[1], in[2]};
        const Rgb seen = s.behind.isTyped() ? shownAt(light, in[3], (x + 0.5) / width, (y + 0.5) / height, 1.0 / width, s, true)
                                            : shown(light, in[3], s, true);
        out[0] = seen.x;
        out[1] = seen.y;
        out[2] = seen.z;
        if (s.transparent || !s.layers.empty())
            out[3] = s.transparent ? in[3] : 1;
    }));
    last = addLayers(graph, last, s.layers, frame);
    if (hasCoverage && !s.transparent)
        graph.add(pointwise(last, 3, [](const float* in, float* out, int, int) { std::copy(in, in + 3, out); }));
    return graph;
}

picture::Raster<float> develop(const film::LightShares& shares, const DevelopSettings& s)
{
    const int y0 = shares.shape.regionY, y1 = y0 + shares.shape.regionHeight;
    return developRows(shares, s, y0, y1, y0, y1);
}

picture::Raster<float> developRows(const film::LightShares& shares, const DevelopSettings& s, int y0, int y1, int top, int bottom)
{
    const Graph graph = graphOf(s, shares.shape.width, shares.shape.height);
    const int x0 = shares.shape.regionX, x1 = x0 + shares.shape.regionWidth;
    const Area whole{x0, top, x1, bottom};
    picture::Raster<float> raster(x1 - x0, y1 - y0, s.transparent ? 4 : 3);
    // What looks round itself is made in few parts: their surroundings are made twice.
    const int together =
        graph.reach() == 0 ? kRowsTogether : std::max(kRowsTogether, (y1 - y0 + base::threadCount() - 1) / base::threadCount());
    base::parallelFor(static_cast<std::size_t>((y1 - y0 + together - 1) / together), [&](std::size_t part) {
        const int from = y0 + static_cast<int>(part) * together;
        const Area wanted{x0, from, x1, std::min(from + together, y1)};
        const Image made = graph.run(mixedLight(shares, s, wanted.grownBy(graph.reach(), whole)), wanted, whole);
        std::copy(made.pixels.values.begin(), made.pixels.values.end(), raster.at(0, from - y0));
    });
    return raster;
}

picture::Raster<std::uint8_t> clipped(const film::LightShares& shares, const DevelopSettings& s)
{
    picture::Raster<std::uint8_t> raster(shares.shape.regionWidth, shares.shape.regionHeight, 1);
    forPixels(shares, [&](int x, int y, const Rgb* mean, float alpha) {
        const Rgb light = mixed(mean, s);
        *raster.at(x, y) = alpha > 0 && std::max({light.x, light.y, light.z}) > alpha * kScreenWhite;
    });
    return raster;
}

picture::Raster<std::uint8_t> to8Bits(const picture::Raster<float>& encoded, int firstRow)
{
    picture::Raster<std::uint8_t> result(encoded.width, encoded.height, encoded.channels);
    base::parallelFor(static_cast<std::size_t>(encoded.height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < encoded.width; ++x) {
            std::uint32_t hash =
                render::mixBits(static_cast<std::uint32_t>(x) + render::mixBits(static_cast<std::uint32_t>(firstRow + y) + 0x51ed270bu));
            for (int c = 0; c < encoded.channels; ++c) {
                const float v = std::clamp(encoded.at(x, y)[c], 0.0f, 1.0f) * 255;
                // A hair above exact values counts as exact: 1e-3 is far below what dither can show.
                const float nearest = std::round(v);
                const float chance = static_cast<float>(hash >> 8) * 0x1p-24f;
                const bool exact = c == 3 || std::abs(v - nearest) < 1e-3f;
                result.at(x, y)[c] = static_cast<std::uint8_t>(exact ? nearest : std::floor(v + chance));
                hash = render::mixBits(hash + 0x9e3779b9u);
            }
        }
    });
    return result;
}

picture::Raster<std::uint16_t> to16Bits(const picture::Raster<float>& encoded)
{
    picture::Raster<std::uint16_t> result(encoded.width, encoded.height, encoded.channels);
    for (std::size_t i = 0; i < encoded.values.size(); ++i)
        result.values[i] = static_cast<std::uint16_t>(std::lround(std::clamp(encoded.values[i], 0.0f, 1.0f) * 65535));
    return result;
}

}  // namespace finish
