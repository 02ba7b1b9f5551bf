// Layers by formulas of the place or of the colour alone: curve, channel mix, bands, smoke, paper and wear.
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "finish/placed.h"
#include "finish/tone.h"
#include "picture/colour.h"

namespace finish {

float curveAt(const Curves& curves, float at)
{
    // Tangents that keep a rise a rise: F. N. Fritsch and R. E. Carlson, Monotone piecewise cubic interpolation, 1980.
    const std::array<double, 5> y{curves.black, curves.dark, curves.middle, curves.bright, curves.white};
    std::array<double, 4> slope;
    std::array<double, 5> tangent;
    for (std::size_t i = 0; i < 4; ++i)
        slope[i] = (y[i + 1] - y[i]) * 4;
    tangent[0] = slope[0];
    tangent[4] = slope[3];
    for (std::size_t i = 1; i < 4; ++i)
        tangent[i] = slope[i - 1] * slope[i] <= 0 ? 0 : (slope[i - 1] + slope[i]) / 2;
    for (std::size_t i = 0; i < 4; ++i) {
        if (slope[i] == 0) {
            tangent[i] = tangent[i + 1] = 0;
            continue;
        }
        const double a = tangent[i] / slope[i], b = tangent[i + 1] / slope[i], r = std::hypot(a, b);
        if (r > 3) {
            tangent[i] = 3 * a / r * slope[i];
            tangent[i + 1] = 3 * b / r * slope[i];
        }
    }
    const double place = std::clamp<double>(at, 0, 1) * 4;
    const auto i = static_cast<std::size_t>(std::min(3.0, std::floor(place)));
    const double t = place - static_cast<double>(i), h = 0.25;
    const double made = y[i] * (1 + 2 * t) * (1 - t) * (1 - t) + h * tangent[i] * t * (1 - t) * (1 - t) + y[i + 1] * t * t * (3 - 2 * t) +
                        h * tangent[i + 1] * t * t * (t - 1);
    return static_cast<float>(std::clamp(made, 0.0, 1.0));
}

int addStep(Graph& graph, int last, const Placed& placed, const Curves& curves)
{
    const auto curve = std::make_shared<Curve>([&](float v) { return curveAt(curves, v); });
    return addChange(graph, last, placed, [curve, of = curves.of](Rgb is, int, int) {
        const auto bent = [&](CurveOf channel, float v) { return of == CurveOf::All || of == channel ? curve->at(v) : v; };
        return Rgb{bent(CurveOf::Red, is.x), bent(CurveOf::Green, is.y), bent(CurveOf::Blue, is.z)};
    });
}

int addStep(Graph& graph, int last, const Placed& placed, const Mixer& mixer)
{
    const auto row = [](double r, double g, double b) { return Rgb{static_cast<float>(r), static_cast<float>(g), static_cast<float>(b)}; };
    const std::array<Rgb, 3> rows{row(mixer.redRed, mixer.redGreen, mixer.redBlue), row(mixer.greenRed, mixer.greenGreen, mixer.greenBlue),
                                  row(mixer.blueRed, mixer.blueGreen, mixer.blueBlue)};
    return addChange(graph, last, placed, [rows](Rgb is, int, int) {
        const auto of = [&](const Rgb& r) { return std::clamp(is.x * r.x + is.y * r.y + is.z * r.z, 0.0f, 1.0f); };
        return Rgb{of(rows[0]), of(rows[1]), of(rows[2])};
    });
}

int addStep(Graph& graph, int last, const Placed& placed, const Lookup& lookup)
{
    if (!lookup.cube)
        return last;
    return addChange(graph, last, placed, [cube = lookup.cube](Rgb is, int, int) {
        const Rgb made = cube->at(is);
        return Rgb{std::clamp(made.x, 0.0f, 1.0f), std::clamp(made.y, 0.0f, 1.0f), std::clamp(made.z, 0.0f, 1.0f)};
    });
}

namespace {

double smoothly(double t)
{
    const double c = std::clamp(t, 0.0, 1.0);
    return c * c * (3 - 2 * c);
}

// Noise of several sizes, each half as large and half as strong; mean 0, standard deviation 1.
double cloudsAt(double x, double y, std::uint32_t seed, int octaves)
{
    double sum = 0, power = 0, strength = 1;
    for (int i = 0; i < octaves; ++i) {
        sum += strength * static_cast<double>(noiseAt(x, y, seed + static_cast<std::uint32_t>(i) * 101));
        power += strength * strength;
        strength /= 2;
        x *= 2;
        y *= 2;
    }
    return sum / std::sqrt(power);
}

// A place of the frame in a texture's own directions: `size` pt are 1.
struct OwnPlace {
    double perPx, c, s;

    OwnPlace(const Placed& placed, double sizePt, double turn)
        : perPx(1 / std::max(1e-6, placed.px(sizePt))), c(std::cos(base::radians(turn))), s(std::sin(base::radians(turn)))
    {
    }
    // y up
    base::Vec2 at(double x, double y) const { return {(x * c - y * s) * perPx, (-x * s - y * c) * perPx}; }
};

// Calls value(x, y) on a net of places `step` px apart, the same for every part of the picture, and reads between them.
template <class Value>
Image onNet(const Area& area, int step, Value value)
{
    const auto down = [&](int v) { return (v >= 0 ? v / step : -((-v + step - 1) / step)) * step; };
    const int x0 = down(area.x0), y0 = down(area.y0), w = (area.x1 - x0) / step + 2, h = (area.y1 - y0) / step + 2;
    picture::Raster<float> net(w, h, 1);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
            *net.at(x, y) = static_cast<float>(value(x0 + x * step + 0.5, y0 + y * step + 0.5));
    Image out(area, 1);
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x) {
            const int cx = (x - x0) / step, cy = (y - y0) / step;
            const float u = static_cast<float>((x - x0) % step) / static_cast<float>(step),
                        v = static_cast<float>((y - y0) % step) / static_cast<float>(step);
            const float top = *net.at(cx, cy) + (*net.at(cx + 1, cy) - *net.at(cx, cy)) * u,
                        low = *net.at(cx, cy + 1) + (*net.at(cx + 1, cy + 1) - *net.at(cx, cy + 1)) * u;
            *out.at(x, y) = top + (low - top) * v;
        }
    return out;
}

// How far apart places of a net may be whose smallest things are so large.
int netStep(double smallestPx)
{
    return std::clamp(static_cast<int>(smallestPx / 5), 1, 64);
}

// Covers with one colour as far as made(area) says.
template <class Made>
int addCovering(Graph& graph, int last, const Placed& placed, Rgb colour, Made made)
{
    return graph.add({placed.inputs(last), 0, 4, [=](std::span<const Image* const> in, Image& out) {
                          const Image covers = made(out.area);
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float* is = in[0]->at(x, y);
                                  const Covered over = composited(placed.layer.blend, {rgbAt(is), is[3]}, colour,
                                                                  *covers.at(x, y) * placed.weight(in, x, y));
                                  put(out.at(x, y), over.colour, over.alpha);
                              }
                      }});
}

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Smoke& smoke)
{
    constexpr int kOctaves = 4;
    const OwnPlace own(placed, smoke.size, 0);
    const std::uint32_t seed = static_cast<std::uint32_t>(smoke.seed) * 7919u + 17u;
    const double w = placed.frame.width, h = placed.frame.height, turn = base::radians(smoke.turn), c = std::cos(turn), s = -std::sin(turn),
                 across = std::max(1e-6, std::abs(w * c) + std::abs(h * s));
    const int step = netStep(placed.px(smoke.size) / (1 << (kOctaves - 1)));
    return addCovering(graph, last, placed, picture::encodeSrgb(smoke.colour), [=](const Area& area) {
        return onNet(area, step, [&](double x, double y) {
            const double dx = x - w / 2, dy = y - h / 2;
            const double from = 0.5 - (dx * c + dy * s) / across;  // 0 where it is thickest
            const double there = smoke.reach <= 0 ? 1 : std::clamp(1 - from / smoke.reach, 0.0, 1.0);
            if (there <= 0)
                return 0.0;
            const base::Vec2 at = own.at(dx, dy);
            // Drawn along by slower noise: clouds curl.
            const double warp = noiseAt(at.x / 2 + 31, at.y / 2, seed + 5) * 0.35, bend = noiseAt(at.x / 2, at.y / 2 + 57, seed + 9) * 0.35;
            const double cloud = cloudsAt(at.x + warp, at.y + bend, seed, kOctaves);
            return smoke.density * smoothly((cloud + 3.6 * there - 0.8) / 2.4) * smoothly(there * 1.5);
        });
    });
}

int addStep(Graph& graph, int last, const Placed& placed, const Bands& bands)
{
    const OwnPlace own(placed, bands.size, bands.turn);
    const double w = placed.frame.width, h = placed.frame.height;
    const auto seed = static_cast<std::uint32_t>(bands.seed) + 0x68bc21ebu;
    const auto ramp = std::make_shared<Ramp>(bands.colour, bands.to);
    const auto end = static_cast<float>(bands.toOpacity);
    const double least = own.perPx / 2, soft = std::max(least, bands.softness / 2);
    return addCover(graph, last, placed, [=, variation = bands.variation](int x, int y) {
        // Along the turned axis; borders lie about the whole numbers.
        const double dx = x + 0.5 - w / 2, dy = y + 0.5 - h / 2, u = (dx * own.c - dy * own.s) * own.perPx;
        const auto border = [&](double i) {
            return i +
                   variation * 0.9 * (static_cast<double>(chanceOf(static_cast<std::uint32_t>(static_cast<std::int64_t>(i)), seed)) - 0.5);
        };
        double i = std::floor(u);
        if (u < border(i))
            --i;
        else if (u >= border(i + 1))
            ++i;
        const double left = u - border(i), right = border(i + 1) - u, parity = std::abs(std::fmod(i, 2));
        const double half = std::max(least, std::min(soft, (left + right) / 2));
        const double nearest = std::min(left, right), own2 = smoothly(0.5 + 0.5 * nearest / half);
        const auto share = static_cast<float>(parity * own2 + (1 - parity) * (1 - own2));
        return Covered{ramp->at(share), 1 + (end - 1) * share};
    });
}

namespace {

// Specks in cells of their own, some of them empty: how much of a pixel is covered.
double dustAt(double u, double v, double perPx, double amount, std::uint32_t seed)
{
    constexpr double kCell = 9;
    const double cx = std::floor(u / kCell), cy = std::floor(v / kCell);
    double most = 0;
    for (int j = -1; j <= 1; ++j)
        for (int i = -1; i <= 1; ++i) {
            const auto cell = static_cast<std::uint32_t>(static_cast<std::int64_t>(cx) + i) * 0x9e3779b1u +
                              static_cast<std::uint32_t>(static_cast<std::int64_t>(cy) + j) * 0x85ebca77u;
            const auto chance = [&](std::uint32_t of) { return static_cast<double>(chanceOf(cell, seed + of)); };
            if (chance(0) > amount)
                continue;
            const double px = (cx + i + chance(1)) * kCell - u, py = (cy + j + chance(2)) * kCell - v;
            const double size = 0.12 + 0.88 * std::pow(chance(3), 3), long3 = chance(4) > 0.85 ? 3.5 : 1, turn = 6.283 * chance(5);
            const double a = (px * std::cos(turn) + py * std::sin(turn)) / long3, b = py * std::cos(turn) - px * std::sin(turn);
            const double thin = long3 > 1 ? 0.25 : 1;
            const double r = std::hypot(a, b / thin), edge = perPx / thin;
            most = std::max(most, std::clamp((size / 2 - r) / std::max(1e-9, edge) + 0.5, 0.0, 1.0) * std::min(1.0, size / edge));
        }
    return most;
}

// Long thin lines, nearly along u.
double scratchesAt(double u, double v, double perPx, double amount, std::uint32_t seed)
{
    constexpr double kLong = 60, kApart = 7;
    double most = 0;
    const double cu = std::floor(u / kLong);
    for (int i = -1; i <= 0; ++i) {
        const double row0 = std::floor(v / kApart);
        for (int j = -1; j <= 1; ++j) {
            const auto cell = static_cast<std::uint32_t>(static_cast<std::int64_t>(cu) + i) * 0x9e3779b1u +
                              static_cast<std::uint32_t>(static_cast<std::int64_t>(row0) + j) * 0x85ebca77u;
            const auto chance = [&](std::uint32_t of) { return static_cast<double>(chanceOf(cell, seed + of)); };
            if (chance(0) > amount)
                continue;
            const double length = kLong * (0.2 + 1.6 * chance(1)), along = u - (cu + i + chance(2) * 0.2) * kLong;
            if (along < 0 || along > length)
                continue;
            const double t = along / length, lean = (chance(3) - 0.5) * 0.1, curve = (chance(4) - 0.5) * 3;
            const double middle = (row0 + j + 0.5) * kApart + lean * along + curve * t * (1 - t) + (chance(5) - 0.5) * kApart * 0.5;
            const double half = 0.18 * std::sqrt(std::max(0.0, 4 * t * (1 - t))) * (0.3 + chance(6)), r = std::abs(v - middle);
            most = std::max(most, std::clamp((half - r) / perPx + 0.5, 0.0, 1.0) * std::min(1.0, 2 * half / perPx));
        }
    }
    return most;
}

// The heights of a row, about 0, with a sign: `first` is the place of the frame's left edge, `across` the way from a pixel to the next.
// Fibres: clouds of three sizes, and long ones.
void addPaper(float* to, int x0, int x1, base::Vec2 first, base::Vec2 across, float sign, std::uint32_t seed)
{
    constexpr float kOctaves[] = {1, 0.5f, 0.25f};
    constexpr float kPower = 1.3125f;  // the sum of their squares
    double scale = 0.5;
    for (std::uint32_t i = 0; i < std::size(kOctaves); ++i, scale *= 2)
        addNoise(to, x0, x1, first.x * scale, first.y * scale, across.x * scale, across.y * scale,
                 sign * 0.8f * kOctaves[i] / std::sqrt(kPower), seed + i * 101);
    addNoise(to, x0, x1, first.x * 0.3, first.y * 1.7, across.x * 0.3, across.y * 1.7, sign * 0.5f, seed + 77);
}

// Threads over and under each other.
void addCanvas(float* to, int x0, int x1, base::Vec2 first, base::Vec2 across, float sign, std::uint32_t seed)
{
    constexpr float kHigh = 2.5f;
    addNoise(to, x0, x1, first.x * 0.21, first.y * 0.21, across.x * 0.21, across.y * 0.21, sign * kHigh * 0.25f, seed);
    for (int x = x0; x < x1; ++x) {
        const base::Vec2 p = first + across * static_cast<double>(x);
        const double cu = std::floor(p.x), cv = std::floor(p.y);
        const bool over = (static_cast<std::int64_t>(cu) + static_cast<std::int64_t>(cv)) % 2 == 0;
        const auto a = std::sin(std::numbers::pi_v<float> * static_cast<float>(p.x - cu)),
                   b = std::sin(std::numbers::pi_v<float> * static_cast<float>(p.y - cv));
        to[x - x0] += sign * kHigh * ((over ? b * (0.55f + 0.45f * a) : a * (0.55f + 0.45f * b)) - 0.55f);
    }
}

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Stuff& stuff)
{
    const OwnPlace own(placed, stuff.size, stuff.turn);
    const double w = placed.frame.width, h = placed.frame.height, amount = stuff.amount;
    const std::uint32_t seed = static_cast<std::uint32_t>(stuff.seed) * 104729u + 3u;
    const auto at = [=](double x, double y) { return own.at(x - w / 2, y - h / 2); };
    if (stuff.form == StuffForm::Paper || stuff.form == StuffForm::Canvas) {
        // Lit from the upper left: where it rises towards there it is bright.
        const bool paper = stuff.form == StuffForm::Paper;
        const base::Vec2 across = own.at(1, 0);  // from a pixel to the next
        return addChangeRows(graph, last, placed, [=](int y, int x0, int x1, Rgb* to) {
            std::vector<float> rises(static_cast<std::size_t>(x1 - x0));
            for (const auto& [sign, shift] : {std::pair{1.0f, 0.0}, {-1.0f, 0.35}}) {
                const base::Vec2 first = at(0.5, y + 0.5) + base::Vec2{shift, -shift};  // where the row's first pixel would lie
                paper ? addPaper(rises.data(), x0, x1, first, across, sign, seed)
                      : addCanvas(rises.data(), x0, x1, first, across, sign, seed);
            }
            for (std::size_t i = 0; i < rises.size(); ++i) {
                const float g = std::clamp(0.5f + 0.22f * static_cast<float>(amount) * rises[i], 0.0f, 1.0f);
                to[i] = {g, g, g};
            }
        });
    }
    const Rgb colour = picture::encodeSrgb(stuff.colour);
    return addCover(graph, last, placed, [=, form = stuff.form](int x, int y) {
        const base::Vec2 p = at(x + 0.5, y + 0.5);
        double covers = 0;
        if (form == StuffForm::Dust)
            covers = dustAt(p.x, p.y, own.perPx, amount, seed);
        else if (form == StuffForm::Scratches)
            covers = scratchesAt(p.x, p.y, own.perPx, amount, seed);
        else
            covers =
                smoothly((cloudsAt(p.x / 6, p.y / 6, seed, 5) + cloudsAt(p.x, p.y, seed + 999, 2) * 0.35 - 2.2 + 2.6 * amount) / 0.5 + 0.5);
        return Covered{colour, static_cast<float>(covers)};
    });
}

}  // namespace finish
