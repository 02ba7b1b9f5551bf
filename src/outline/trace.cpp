#include "outline/trace.h"

#include <fmt/format.h>
#include <potracelib.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <memory>

namespace outline {

namespace {

constexpr int kEnough = 1200;  // pixels of the longer side: no need to enlarge
constexpr int kMostEnlarged = 4;

// Between the four pixels round a place, in pixels of the picture.
double valueAt(const Greys& greys, double x, double y)
{
    x = std::clamp(x, 0.0, greys.width - 1.0);
    y = std::clamp(y, 0.0, greys.height - 1.0);
    const int left = static_cast<int>(x), top = static_cast<int>(y);
    const int right = std::min(left + 1, greys.width - 1), below = std::min(top + 1, greys.height - 1);
    const auto at = [&](int column, int row) { return double(greys.values[static_cast<std::size_t>(row) * greys.width + column]); };
    const double u = x - left, v = y - top;
    return (at(left, top) * (1 - u) + at(right, top) * u) * (1 - v) + (at(left, below) * (1 - u) + at(right, below) * u) * v;
}

// The bits of a picture as potrace wants them: rows from below, the first pixel in the highest bit.
struct Bits {
    std::vector<potrace_word> words;
    potrace_bitmap_t map{};

    Bits(const Greys& greys, const TraceSettings& settings, int times)
    {
        constexpr int kBits = 8 * sizeof(potrace_word);
        map.w = greys.width * times;
        map.h = greys.height * times;
        map.dy = (map.w + kBits - 1) / kBits;
        words.assign(static_cast<std::size_t>(map.dy) * map.h, 0);
        map.map = words.data();
        const double threshold = settings.threshold * 255;
        for (int row = 0; row < map.h; ++row)
            for (int column = 0; column < map.w; ++column) {
                const double value = valueAt(greys, (column + 0.5) / times - 0.5, (row + 0.5) / times - 0.5);
                if ((value < threshold) != settings.inverse)
                    words[static_cast<std::size_t>(map.h - 1 - row) * map.dy + column / kBits] |= potrace_word{1}
                                                                                                  << (kBits - 1 - column % kBits);
            }
    }
};

CurveContour contourOf(const potrace_curve_t& curve, double scale)
{
    const auto at = [&](const potrace_dpoint_t& p) { return Vec2{p.x * scale, p.y * scale}; };
    CurveContour contour;
    Vec2 from = at(curve.c[curve.n - 1][2]);
    const auto line = [&](Vec2 to) {
        if (!(to == from))
            contour.push_back({1, {from, to}});
        from = to;
    };
    for (int i = 0; i < curve.n; ++i) {
        const auto& c = curve.c[i];
        if (curve.tag[i] == POTRACE_CORNER) {
            line(at(c[1]));
            line(at(c[2]));
        } else {
            contour.push_back({3, {from, at(c[0]), at(c[1]), at(c[2])}});
            from = at(c[2]);
        }
    }
    return contour;
}

bool isSpace(char c)
{
    return c == ' ' || c == '\n' || c == '\t' || c == '\r';
}

}  // namespace

std::string pgmOf(const Greys& greys)
{
    std::string text = fmt::format("P5\n{} {}\n255\n", greys.width, greys.height);
    text.append(greys.values.begin(), greys.values.end());
    return text;
}

base::Result<Greys> greysFromPgm(std::string_view bytes, const std::string& name)
{
    constexpr int kMostSide = 20000;
    const auto bad = [&] { return base::fail(base::ErrorCode::BadInput, "This is no grey picture; replace the artwork", name); };
    if (!bytes.starts_with("P5"))
        return bad();
    std::size_t at = 2;
    std::array<int, 3> numbers{};
    for (int& number : numbers) {
        while (at < bytes.size() && isSpace(bytes[at]))
            ++at;
        const auto [end, error] = std::from_chars(bytes.data() + at, bytes.data() + bytes.size(), number);
        if (error != std::errc{} || number < 1 || number > kMostSide)
            return bad();
        at = static_cast<std::size_t>(end - bytes.data());
    }
    ++at;  // one space before the pixels
    Greys greys{numbers[0], numbers[1], {}};
    const std::size_t size = static_cast<std::size_t>(greys.width) * static_cast<std::size_t>(greys.height);
    if (numbers[2] != 255 || at > bytes.size() || bytes.size() - at != size)
        return bad();
    greys.values.assign(bytes.begin() + static_cast<std::ptrdiff_t>(at), bytes.end());
    return greys;
}

double usualThreshold(const Greys& greys)
{
    std::array<double, 256> count{};
    for (const std::uint8_t v : greys.values)
        ++count[v];
    double all = 0, sum = 0;
    for (std::size_t i = 0; i < count.size(); ++i) {
        all += count[i];
        sum += count[i] * double(i);
    }
    // Equally good ones lie side by side where no pixel has a grey between: their middle.
    double below = 0, sumBelow = 0, best = -1, first = 127, last = 127;
    for (std::size_t i = 0; i + 1 < count.size(); ++i) {
        below += count[i];
        sumBelow += count[i] * double(i);
        if (below == 0 || below == all)
            continue;
        const double apart = sumBelow / below - (sum - sumBelow) / (all - below);
        const double between = below * (all - below) * apart * apart;
        if (between > best * (1 + 1e-12))
            first = double(i);
        if (between >= best * (1 - 1e-12))
            last = double(i);
        best = std::max(best, between);
    }
    return ((first + last) / 2 + 0.5) / 255;
}

Drawing traced(const Greys& greys, const TraceSettings& settings)
{
    Drawing drawing{double(greys.width), double(greys.height), {}, {}};
    const int longer = std::max(greys.width, greys.height);
    const int times = std::clamp(kEnough / longer, 1, kMostEnlarged);
    const Bits bits(greys, settings, times);
    const std::unique_ptr<potrace_param_t, decltype(&potrace_param_free)> parameters(potrace_param_default(), potrace_param_free);
    parameters->turdsize = settings.specks * times * times;
    parameters->alphamax = settings.smoothness * 4 / 3;
    parameters->opticurve = settings.smoothness > 0;
    const std::unique_ptr<potrace_state_t, decltype(&potrace_state_free)> state(potrace_trace(parameters.get(), &bits.map),
                                                                                potrace_state_free);
    if (!state || state->status != POTRACE_STATUS_OK)
        throw std::bad_alloc();
    std::vector<std::pair<int, DrawnShape>> shapes;  // with their areas
    // Outer paths come before their holes.
    for (const potrace_path_t* path = state->plist; path; path = path->next) {
        if (path->sign == '+')
            shapes.push_back({path->area, {}});
        if (!shapes.empty() && path->curve.n > 0)
            shapes.back().second.contours.push_back(contourOf(path->curve, 1.0 / times));
    }
    if (shapes.size() > kMostShapes) {
        drawing.notes.push_back(
            {"traced-too-much",
             fmt::format("The picture has {} areas; the {} largest are kept. Leave out larger specks", shapes.size(), kMostShapes),
             {}});
        std::stable_sort(shapes.begin(), shapes.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
        shapes.resize(kMostShapes);
    }
    for (auto& [_, shape] : shapes) {
        shape.id = fmt::format("s{}", drawing.shapes.size() + 1);
        drawing.shapes.push_back(std::move(shape));
    }
    return drawing;
}

}  // namespace outline
