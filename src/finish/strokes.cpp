#include "finish/strokes.h"

#include <algorithm>
#include <cmath>

namespace finish {

namespace {

// Squared distance of a point from the line between two.
float farFromLine(float px, float py, float ax, float ay, float bx, float by)
{
    const float dx = bx - ax, dy = by - ay, length = dx * dx + dy * dy;
    const float t = length > 0 ? std::clamp(((px - ax) * dx + (py - ay) * dy) / length, 0.0f, 1.0f) : 0;
    const float x = px - ax - t * dx, y = py - ay - t * dy;
    return x * x + y * y;
}

// Squared distance from a stroke's line, where that is less than `most` px; `far` holds as much elsewhere.
void markFar(const Stroke& stroke, const FrameSize& frame, float most, Image& far)
{
    const Area& a = far.area;
    const auto px = [&](base::Vec2 p) {
        return std::pair(static_cast<float>(frame.width / 2.0 + p.x * frame.pxPerPt),
                         static_cast<float>(frame.height / 2.0 - p.y * frame.pxPerPt));
    };
    for (std::size_t i = 0; i < stroke.points.size(); ++i) {
        if (i == 0 && stroke.points.size() > 1)
            continue;
        const auto [ax, ay] = px(stroke.points[i == 0 ? 0 : i - 1]);
        const auto [bx, by] = px(stroke.points[i]);
        const auto first = [&](float from, float to, int least) { return std::max(least, static_cast<int>(std::min(from, to) - most)); };
        const auto end = [&](float from, float to, int last) { return std::min(last, static_cast<int>(std::max(from, to) + most) + 1); };
        for (int y = first(ay, by, a.y0); y < end(ay, by, a.y1); ++y)
            for (int x = first(ax, bx, a.x0); x < end(ax, bx, a.x1); ++x)
                *far.at(x, y) =
                    std::min(*far.at(x, y), farFromLine(static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f, ax, ay, bx, by));
    }
}

}  // namespace

namespace {

// How much a stroke covers where its edge is `inside` px away, a smooth step over `soft` px, the mean over a pixel: so it is the same at
// any number of pixels.
float coverAt(float inside, float soft)
{
    const auto sumTo = [&](float x) {  // of the step, from its edge on
        const float t = std::clamp(x / soft, 0.0f, 1.0f);
        return soft * t * t * t * (1 - t / 2) + std::max(0.0f, x - soft);
    };
    return sumTo(inside + 0.5f) - sumTo(inside - 0.5f);
}

}  // namespace

void paint(const std::vector<Stroke>& strokes, const FrameSize& frame, Image& out)
{
    std::fill(out.pixels.values.begin(), out.pixels.values.end(), !strokes.empty() && strokes.front().erases ? 1.0f : 0.0f);
    for (const Stroke& stroke : strokes) {
        // A hard edge is looked at in quarters of pixels, so that it is as exact aslant.
        constexpr double kHard = 3;  // px
        const int fine = stroke.size / 2 * frame.pxPerPt * stroke.softness < kHard ? 2 : 1;
        const FrameSize looked{frame.width * fine, frame.height * fine, frame.pxPerPt * fine};
        const auto radius = static_cast<float>(stroke.size / 2 * looked.pxPerPt), ends = radius + 0.5f,
                   soft = std::max(1e-3f, radius * static_cast<float>(stroke.softness));
        Image far({out.area.x0 * fine, out.area.y0 * fine, out.area.x1 * fine, out.area.y1 * fine}, 1);
        std::fill(far.pixels.values.begin(), far.pixels.values.end(), ends * ends);
        markFar(stroke, looked, ends, far);
        for (int y = out.area.y0; y < out.area.y1; ++y)
            for (int x = out.area.x0; x < out.area.x1; ++x) {
                float covers = 0;
                for (int i = 0; i < fine * fine; ++i)
                    if (const float at = *far.at(x * fine + i % fine, y * fine + i / fine); at < ends * ends)
                        covers += coverAt(radius - std::sqrt(at), soft) / static_cast<float>(fine * fine);
                float& is = *out.at(x, y);
                is = stroke.erases ? is * (1 - covers) : is + (1 - is) * covers;
            }
    }
}

}  // namespace finish
