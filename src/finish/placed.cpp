#include "finish/placed.h"

#include <algorithm>
#include <cmath>

#include "finish/blur.h"
#include "finish/tone.h"
#include "picture/colour.h"

namespace finish {

float Placed::ofBrightness(const float* below) const
{
    constexpr float kOver = 0.06f;  // how far it goes over at either end
    const float luma = lumaOf(onLight ? picture::encodeSrgbQuickly(rgbAt(below)) : rgbAt(below));
    const auto step = [&](double at) {
        const float t = std::clamp((luma - static_cast<float>(at)) / (2 * kOver) + 0.5f, 0.0f, 1.0f);
        return t * t * (3 - 2 * t);
    };
    return (layer.mask.darkest > 0 ? step(layer.mask.darkest) : 1) * (layer.mask.brightest < 1 ? 1 - step(layer.mask.brightest) : 1);
}

float Placed::faded(int x, int y) const
{
    const double w = frame.width, h = frame.height, turn = base::radians(layer.mask.fadesTurn), c = std::cos(turn), s = -std::sin(turn);
    const double t = 0.5 + ((x + 0.5 - w / 2) * c + (y + 0.5 - h / 2) * s) / std::max(1e-6, std::abs(w * c) + std::abs(h * s));
    return static_cast<float>(1 - layer.mask.fades * std::clamp(t, 0.0, 1.0));
}

// Colour that is seen, as light, premultiplied, so that blurring is what a lens does.
Image asLight(const Image& image, const Area& area)
{
    static const Curve s_decoded([](float v) { return picture::decodeSrgb(v); });
    Image light(area, 4);
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x) {
            const float* from = image.at(x, y);
            float* to = light.at(x, y);
            for (int c = 0; c < 3; ++c)
                to[c] = s_decoded.at(from[c]) * from[3];
            to[3] = from[3];
        }
    return light;
}

Covered asSeen(const float* light)
{
    const float alpha = light[3];
    return {picture::encodeSrgbQuickly(alpha > 1e-6f ? rgbAt(light) * (1 / alpha) : Rgb{}), alpha};
}

void between(const Image& image, double x, double y, float* to)
{
    const Area& a = image.area;
    const double px = x - 0.5, py = y - 0.5, fx = std::floor(px), fy = std::floor(py);
    const int x0 = std::clamp(static_cast<int>(fx), a.x0, a.x1 - 1), x1 = std::clamp(static_cast<int>(fx) + 1, a.x0, a.x1 - 1),
              y0 = std::clamp(static_cast<int>(fy), a.y0, a.y1 - 1), y1 = std::clamp(static_cast<int>(fy) + 1, a.y0, a.y1 - 1);
    const auto u = static_cast<float>(px - fx), v = static_cast<float>(py - fy);
    const float *p00 = image.at(x0, y0), *p10 = image.at(x1, y0), *p01 = image.at(x0, y1), *p11 = image.at(x1, y1);
    for (int c = 0; c < 4; ++c) {
        const float top = p00[c] + (p10[c] - p00[c]) * u, low = p01[c] + (p11[c] - p01[c]) * u;
        to[c] = top + (low - top) * v;
    }
}

}  // namespace finish
