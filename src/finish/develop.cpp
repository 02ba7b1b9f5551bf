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
    return std::ranges::any_of(layers, looksAtIds);
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

// What layers ask of pixels beside their colour.
class Planes {
public:
    // Of the layers from `first` on.
    Planes(const film::LightShares& shares, const DevelopSettings& s, std::size_t first = 0) : m_shares(shares), m_settings(s)
    {
        const film::Entries& entries = shares.shape.entries;
        // A draft's light is mixed already: no entry has a name.
        const bool named = std::ranges::any_of(entries, [](const film::Entry& e) { return !e.name.empty(); });
        for (std::size_t i = first; i < s.layers.size(); ++i) {
            const Layer& layer = s.layers[i];
            const int count = planesOf(layer);
            if (count == 0)
                continue;
            const auto found = std::ranges::find(entries, layer.mask.light, &film::Entry::name);
            m_asking.push_back({&layer, m_count,
                                layer.mask.light.empty() || !named ? kAny
                                : found == entries.end()           ? kNone
                                                                   : static_cast<int>(found - entries.begin())});
            m_count += count;
        }
    }
    int count() const { return m_count; }
    // Of a pixel of the region.
    void fill(int column, int row, float* to) const
    {
        static const film::RankedIds s_nothing;
        const film::RankedIds& ids = m_shares.ids.empty() ? s_nothing : m_shares.idsAt(column, row);
        for (const Asking& a : m_asking)
            fillPlanes(*a.layer, ids, a.light == kAny ? 1 : a.light == kNone ? 0 : shareOf(a.light, column, row), to + a.at);
    }

private:
    static constexpr int kAny = -1, kNone = -2;

    struct Asking {
        const Layer* layer;
        int at;     // of its first plane
        int light;  // the entry that its mask follows
    };

    // How much of the light is of an entry, by luminance.
    float shareOf(int entry, int column, int row) const
    {
        const Rgb* entries = m_shares.entries(column, row);
        const auto luminance = [](Rgb c) { return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z; };
        float all = 0;
        for (std::size_t i = 0; i < m_settings.desk.size(); ++i)
            all += luminance(entries[i] * m_settings.desk[i]);
        const auto at = static_cast<std::size_t>(entry);
        return all > 0 && at < m_settings.desk.size() ? std::clamp(luminance(entries[at] * m_settings.desk[at]) / all, 0.0f, 1.0f) : 0;
    }

    const film::LightShares& m_shares;
    const DevelopSettings& m_settings;
    int m_count = 0;
    std::vector<Asking> m_asking;
};

// The lights mixed at the desk, before the first step.
Image mixedLight(const film::LightShares& shares, const DevelopSettings& s, const Area& area)
{
    DevelopSettings atDesk;
    atDesk.desk = s.desk;
    const bool hasLight = showsLightBehind(s);
    const Planes planes(shares, s);
    Image image(area, 4 + planes.count());
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
            if (planes.count() > 0)
                planes.fill(column, row, out + 4);
        }
    return image;
}

// A picture that was made so far, with what the layers over it ask for: from `first` on.
Image withPlanes(const Image& made, const film::LightShares& shares, const DevelopSettings& s, std::size_t first, const Area& area)
{
    const Planes planes(shares, s, first);
    Image image(area, 4 + planes.count());
    for (int y = area.y0; y < area.y1; ++y) {
        if (planes.count() == 0) {
            std::copy_n(made.at(area.x0, y), 4 * (area.x1 - area.x0), image.at(area.x0, y));
            continue;
        }
        for (int x = area.x0; x < area.x1; ++x) {
            float* out = image.at(x, y);
            std::copy_n(made.at(x, y), 4, out);
            planes.fill(x - shares.shape.regionX, y - shares.shape.regionY, out + 4);
        }
    }
    return image;
}

// From mixed light to encoded colour with coverage, without the layers over that; returns the last step.
int addView(Graph& graph, const DevelopSettings& s, int width, int height)
{
    int last = Graph::kSource;
    if (s.exposureStops != 0)
        last =
            graph.add(pointwise(last, 4, [factor = std::exp2(static_cast<float>(s.exposureStops))](const float* in, float* out, int, int) {
                for (int c = 0; c < 3; ++c)
                    out[c] = in[c] * factor;
                out[3] = in[3];
            }));
    last = addLight(graph, last, s.layers, frameOf(s, width, height));
    return graph.add(pointwise(last, 4, [s, width, height](const float* in, float* out, int x, int y) {
        const Rgb light{in[0], in[1], in[2]};
        const Rgb seen = s.behind.isTyped() ? shownAt(light, in[3], (x + 0.5) / width, (y + 0.5) / height, 1.0 / width, s, true)
                                            : shown(light, in[3], s, true);
        out[0] = seen.x;
        out[1] = seen.y;
        out[2] = seen.z;
        out[3] = s.transparent ? in[3] : 1;
    }));
}

// What is asked for of colour with coverage.
void addLast(Graph& graph, int last, const DevelopSettings& s)
{
    if (!s.transparent)
        graph.add(pointwise(last, 3, [](const float* in, float* out, int, int) { std::copy(in, in + 3, out); }));
    else if (last == Graph::kSource)
        graph.add(pointwise(last, 4, [](const float* in, float* out, int, int) { std::copy(in, in + 4, out); }));
}

Area regionOf(const film::FilmShape& shape)
{
    return {shape.regionX, shape.regionY, shape.regionX + shape.regionWidth, shape.regionY + shape.regionHeight};
}

// Calls made(area) for parts of a region, side by side, and copies what it gives into a raster. False: it was stopped, and the raster is
// not whole.
template <class Made>
bool inParts(picture::Raster<float>& raster, const Area& region, int reach, Made made, const std::stop_token& stop = {})
{
    // What looks round itself is made in few parts: their surroundings are made twice.
    const int rows = region.y1 - region.y0;
    const int together = reach == 0 ? kRowsTogether : std::max(kRowsTogether, (rows + base::threadCount() - 1) / base::threadCount());
    base::parallelFor(static_cast<std::size_t>((rows + together - 1) / together), [&](std::size_t part) {
        const int from = region.y0 + static_cast<int>(part) * together;
        if (stop.stop_requested())
            return;
        const Image image = made(Area{region.x0, from, region.x1, std::min(from + together, region.y1)});
        std::copy(image.pixels.values.begin(), image.pixels.values.end(), raster.at(0, from - region.y0));
    });
    return !stop.stop_requested();
}

}  // namespace

Graph graphOf(const DevelopSettings& s, int width, int height)
{
    Graph graph;
    const int last = addView(graph, s, width, height);
    addLast(graph, addLayers(graph, last, s.layers, frameOf(s, width, height)), s);
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
    const int x0 = shares.shape.regionX, x1 = x0 + shares.shape.regionWidth, reach = graph.reach();
    const Area whole{x0, top, x1, bottom};
    picture::Raster<float> raster(x1 - x0, y1 - y0, s.transparent ? 4 : 3);
    inParts(raster, {x0, y0, x1, y1}, reach,
            [&](const Area& wanted) { return graph.run(mixedLight(shares, s, wanted.grownBy(reach, whole)), wanted, whole); });
    return raster;
}

bool standsAlone(const Layer& layer)
{
    return std::visit(
        []<class T>(const T&) {
            return std::is_same_v<T, Fill> || std::is_same_v<T, FlatShadow> || std::is_same_v<T, Picture> || std::is_same_v<T, Lines> ||
                   std::is_same_v<T, Particles> || std::is_same_v<T, Smoke> || std::is_same_v<T, Stuff> || std::is_same_v<T, Bands> ||
                   std::is_same_v<T, Print> || std::is_same_v<T, Code>;
        },
        layer.what);
}

DevelopSettings aloneOf(const DevelopSettings& settings, const Layer& layer)
{
    DevelopSettings alone = settings;
    alone.transparent = true;
    alone.layers = {layer};
    alone.layers.front().blend = Blend::Normal;
    return alone;
}

picture::Raster<float> layerRows(const film::LightShares& shares, const DevelopSettings& alone, int y0, int y1, int top, int bottom)
{
    Graph graph;
    const int nothing = graph.add({{Graph::kSource}, 0, 4, [](std::span<const Image* const>, Image& out) {
                                       std::fill(out.pixels.values.begin(), out.pixels.values.end(), 0.0f);
                                   }});
    addLayers(graph, nothing, alone.layers, frameOf(alone, shares.shape.width, shares.shape.height));
    const int x0 = shares.shape.regionX, x1 = x0 + shares.shape.regionWidth, reach = graph.reach();
    const Area whole{x0, top, x1, bottom};
    picture::Raster<float> raster(x1 - x0, y1 - y0, 4);
    inParts(raster, {x0, y0, x1, y1}, reach,
            [&](const Area& wanted) { return graph.run(mixedLight(shares, alone, wanted.grownBy(reach, whole)), wanted, whole); });
    return raster;
}

namespace {

// A whole region through the steps, from what source(area) gives; nothing when it was stopped.
template <class Source>
std::optional<picture::Raster<float>> throughSteps(const Graph& graph, const DevelopSettings& s, const Area& whole, Source source,
                                                   const std::stop_token& stop)
{
    const int reach = graph.reach();
    picture::Raster<float> raster(whole.x1 - whole.x0, whole.y1 - whole.y0, s.transparent ? 4 : 3);
    const auto part = [&](const Area& wanted) { return graph.run(source(wanted.grownBy(reach, whole)), wanted, whole, stop); };
    if (!inParts(raster, whole, reach, part, stop))
        return std::nullopt;
    return raster;
}

// A group blends over what was there before its first layer: what is kept ends before that, or after the group.
std::size_t outsideGroups(const std::vector<Layer>& layers, std::size_t at)
{
    for (std::size_t i = layers.size(); i-- > at;)
        if (const auto* group = std::get_if<Group>(&layers[i].what))
            at = std::min(at, i - std::min(i, static_cast<std::size_t>(std::max(0, group->layers))));
    return at;
}

}  // namespace

std::optional<picture::Raster<float>> Redeveloper::develop(const film::LightShares& shares, const DevelopSettings& s,
                                                           const std::stop_token& stop)
{
    const int width = shares.shape.width, height = shares.shape.height;
    const Area whole = regionOf(shares.shape);
    const FrameSize frame = frameOf(s, width, height);
    const auto fromLight = [&](const Area& area) { return mixedLight(shares, s, area); };
    const auto lightOf = [](const DevelopSettings& settings) {
        DevelopSettings light = settings;
        if (std::ranges::none_of(light.layers, isLight))
            light.layers.clear();
        std::erase_if(light.layers, [](const Layer& layer) { return !isLight(layer) && !std::holds_alternative<Group>(layer.what); });
        return light;
    };
    if (!m_last || !(m_shape == shares.shape) || !(lightOf(*m_last) == lightOf(s))) {
        forget();
        auto made = throughSteps(graphOf(s, width, height), s, whole, fromLight, stop);
        if (made) {
            m_last = s;
            m_shape = shares.shape;
        }
        return made;
    }
    // Layers that are light count as any other here: they are in what is kept from its beginning.
    const std::size_t same =
        outsideGroups(s.layers, static_cast<std::size_t>(std::ranges::mismatch(s.layers, m_last->layers).in1 - s.layers.begin()));
    if (m_below.pixels.values.empty() || m_layers > same) {
        Graph graph;
        addLayers(graph, addView(graph, s, width, height), s.layers, frame, 0, same);
        if (!keep(graph, fromLight, whole, stop))
            return std::nullopt;
    } else if (m_layers < same) {
        Graph graph;
        const auto fromBelow = [&](const Area& area) { return withPlanes(m_below, shares, s, m_layers, area); };
        if (addLayers(graph, Graph::kSource, s.layers, frame, m_layers, same) != Graph::kSource && !keep(graph, fromBelow, whole, stop))
            return std::nullopt;
    }
    m_layers = same;
    m_last = s;
    Graph graph;
    addLast(graph, addLayers(graph, Graph::kSource, s.layers, frame, same), s);
    return throughSteps(
        graph, s, whole, [&](const Area& area) { return withPlanes(m_below, shares, s, same, area); }, stop);
}

template <class Source>
bool Redeveloper::keep(const Graph& graph, Source source, const Area& whole, const std::stop_token& stop)
{
    Image made(whole, 4);
    const int reach = graph.reach();
    const auto part = [&](const Area& wanted) { return graph.run(source(wanted.grownBy(reach, whole)), wanted, whole, stop); };
    if (!inParts(made.pixels, whole, reach, part, stop))
        return false;
    m_below = std::move(made);
    return true;
}

void Redeveloper::forget()
{
    m_last.reset();
    m_below = {};
    m_layers = 0;
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

namespace {

// One channel of a row: each value is rounded up with the chance of its fraction, by its pixel's hash, which goes on to the next channel.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
dither(const float* from, std::uint8_t* to, std::uint32_t* hashes, int width, int channels, bool rounds)
{
    for (int x = 0; x < width; ++x) {
        const float v = std::clamp(from[x * channels], 0.0f, 1.0f) * 255, nearest = std::floor(v + 0.5f);
        const float chance = static_cast<float>(static_cast<int>(hashes[x] >> 8)) * 0x1p-24f;
        // A hair above exact values counts as exact: 1e-3 is far below what dither can show.
        const bool exact = rounds || std::abs(v - nearest) < 1e-3f;
        to[x * channels] = static_cast<std::uint8_t>(static_cast<int>(exact ? nearest : std::floor(v + chance)));
        hashes[x] = render::mixBits(hashes[x] + 0x9e3779b9u);
    }
}

}  // namespace

picture::Raster<std::uint8_t> to8Bits(const picture::Raster<float>& encoded, int firstRow)
{
    picture::Raster<std::uint8_t> result(encoded.width, encoded.height, encoded.channels);
    base::parallelFor(static_cast<std::size_t>(encoded.height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        const std::uint32_t ofRow = render::mixBits(static_cast<std::uint32_t>(firstRow + y) + 0x51ed270bu);
        std::vector<std::uint32_t> hashes(static_cast<std::size_t>(encoded.width));
        for (std::size_t x = 0; x < hashes.size(); ++x)
            hashes[x] = render::mixBits(static_cast<std::uint32_t>(x) + ofRow);
        for (int c = 0; c < encoded.channels; ++c)
            dither(encoded.at(0, y) + c, result.at(0, y) + c, hashes.data(), encoded.width, encoded.channels, c == 3);
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
