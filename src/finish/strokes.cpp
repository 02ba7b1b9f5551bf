#include "finish/strokes.h"

#include <algorithm>
#include <cmath>

namespace finish {

namespace {

struct Px {
    float x, y;
};

// Squared distance of a point from the line between two.
float farFromLine(float px, float py, Px a, Px b)
{
    const float dx = b.x - a.x, dy = b.y - a.y, length = dx * dx + dy * dy;
    const float t = length > 0 ? std::clamp(((px - a.x) * dx + (py - a.y) * dy) / length, 0.0f, 1.0f) : 0;
    const float x = px - a.x - t * dx, y = py - a.y - t * dy;
    return x * x + y * y;
}

std::vector<Px> pxOf(const Stroke& stroke, const FrameSize& frame)
{
    std::vector<Px> points;
    for (const base::Vec2& p : stroke.points)
        points.push_back(
            {static_cast<float>(frame.width / 2.0 + p.x * frame.pxPerPt), static_cast<float>(frame.height / 2.0 - p.y * frame.pxPerPt)});
    if (points.size() == 1)
        points.push_back(points.front());  // a dot
    return points;
}

// The pixels within `most` of a line, inside `within`.
Area around(Px a, Px b, float most, const Area& within)
{
    const auto kept = [](float at, int least, int last) {
        return static_cast<int>(std::clamp(at, static_cast<float>(least), static_cast<float>(last)));
    };
    return {kept(std::min(a.x, b.x) - most, within.x0, within.x1), kept(std::min(a.y, b.y) - most, within.y0, within.y1),
            kept(std::max(a.x, b.x) + most + 1, within.x0, within.x1), kept(std::max(a.y, b.y) + most + 1, within.y0, within.y1)};
}

// Squared distance of pixels from a stroke's line, where that is less than `most` px, else as much; of those in `within` that it comes
// near.
Image farFrom(const std::vector<Px>& points, float most, const Area& within)
{
    Area all = within;
    for (std::size_t i = 1; i < points.size(); ++i) {
        const Area one = around(points[i - 1], points[i], most, within);
        all = i == 1 ? one : Area{std::min(all.x0, one.x0), std::min(all.y0, one.y0), std::max(all.x1, one.x1), std::max(all.y1, one.y1)};
    }
    if (points.empty() || all.x0 >= all.x1 || all.y0 >= all.y1)
        return {};
    Image far(all, 2);
    std::fill(far.pixels.values.begin(), far.pixels.values.end(), most * most);
    for (std::size_t i = 1; i < points.size(); ++i) {
        const Px &a = points[i - 1], &b = points[i];
        const Area near = around(a, b, most, within);
        for (int y = near.y0; y < near.y1; ++y)
            for (int x = near.x0; x < near.x1; ++x) {
                float* to = far.at(x, y);
                const float is = farFromLine(static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f, a, b);
                if (is < to[0]) {
                    to[0] = is;
                    to[1] = static_cast<float>(i);
                }
            }
    }
    return far;
}

// How much a stroke covers where its edge is `inside` px away, a smooth step over `soft` px, the mean over a pixel: so it is the same at
// any number of pixels.
float coverAt(float inside, float soft, float half = 0.5f)
{
    const auto sumTo = [&](float x) {  // of the step, from its edge on
        const float t = std::clamp(x / soft, 0.0f, 1.0f);
        return soft * t * t * t * (1 - t / 2) + std::max(0.0f, x - soft);
    };
    return inside - half >= soft ? 1 : (sumTo(inside + half) - sumTo(inside - half)) / (2 * half);
}

// The same of a pixel that a hard edge goes through, in any direction: the mean of its sixteenths.
float coverAtEdge(int x, int y, Px a, Px b, float radius, float soft)
{
    constexpr int kSide = 4;
    float sum = 0;
    for (int i = 0; i < kSide * kSide; ++i) {
        const float px = static_cast<float>(x) + (static_cast<float>(i % kSide) + 0.5f) / kSide,
                    py = static_cast<float>(y) + (static_cast<float>(i / kSide) + 0.5f) / kSide;
        sum += coverAt(radius - std::sqrt(farFromLine(px, py, a, b)), soft, 0.5f / kSide);
    }
    return sum / (kSide * kSide);
}

}  // namespace

void paint(const std::vector<Stroke>& strokes, const FrameSize& frame, Image& out)
{
    constexpr float kHard = 3;  // px
    std::fill(out.pixels.values.begin(), out.pixels.values.end(), !strokes.empty() && strokes.front().erases ? 1.0f : 0.0f);
    for (const Stroke& stroke : strokes) {
        const std::vector<Px> points = pxOf(stroke, frame);
        const auto radius = static_cast<float>(stroke.size / 2 * frame.pxPerPt),
                   soft = std::max(1e-3f, radius * static_cast<float>(stroke.softness)), ends = radius + 0.75f;
        const Image far = farFrom(points, ends, out.area);
        const Area& near = far.area;
        for (int y = near.y0; y < near.y1; ++y)
            for (int x = near.x0; x < near.x1; ++x) {
                const float* at = far.at(x, y);
                if (at[0] >= ends * ends)
                    continue;
                const float inside = radius - std::sqrt(at[0]);
                const auto part = static_cast<std::size_t>(at[1]);
                const float covers = soft < kHard && inside < soft + 1 ? coverAtEdge(x, y, points[part - 1], points[part], radius, soft)
                                                                       : coverAt(inside, soft);
                float& is = *out.at(x, y);
                is = stroke.erases ? is * (1 - covers) : is + (1 - is) * covers;
            }
    }
}

}  // namespace finish
