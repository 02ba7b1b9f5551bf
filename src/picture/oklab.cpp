#include "picture/oklab.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace picture {

namespace {

constexpr float kPi = std::numbers::pi_v<float>;
constexpr float kGrey = 4e-4f;  // chroma of a grey that went through rounding
// Of a channel: near blue the screen's edge is bent inwards by 7e-4, which nobody sees but a search would end at. Less in the dark,
// where it would be seen.
constexpr float kRounding = 1e-3f;

}  // namespace

Oklch toOklch(Rgb c)
{
    const float l = std::cbrt(0.412221469470763f * c.x + 0.5363325372617348f * c.y + 0.0514459932675022f * c.z);
    const float m = std::cbrt(0.2119034958178252f * c.x + 0.6806995506452344f * c.y + 0.1073969535369406f * c.z);
    const float s = std::cbrt(0.0883024591900564f * c.x + 0.2817188391361215f * c.y + 0.6299787016738222f * c.z);
    const float a = 1.9779985324311684f * l - 2.4285922420485799f * m + 0.450593709617411f * s;
    const float b = 0.0259040424655478f * l + 0.7827717124575296f * m - 0.8086757549230774f * s;
    Oklch result{0.210454268309314f * l + 0.7936177747023054f * m - 0.0040720430116193f * s, std::hypot(a, b), 0};
    if (result.chroma > kGrey) {
        const float degrees = std::atan2(b, a) * 180 / kPi;
        result.hue = degrees < 0 ? degrees + 360 : degrees;
    }
    return result;
}

Rgb fromOklch(const Oklch& colour)
{
    const float a = colour.chroma * std::cos(colour.hue * kPi / 180), b = colour.chroma * std::sin(colour.hue * kPi / 180);
    const auto cube = [](float v) { return v * v * v; };
    const float l = cube(colour.lightness + 0.3963377773761749f * a + 0.2158037573099136f * b);
    const float m = cube(colour.lightness - 0.1055613458156586f * a - 0.0638541728258133f * b);
    const float s = cube(colour.lightness - 0.0894841775298119f * a - 1.2914855480194092f * b);
    return {4.0767416360759574f * l - 3.3077115392580616f * m + 0.2309699031821044f * s,
            -1.2684379732850317f * l + 2.6097573492876887f * m - 0.3413193760026573f * s,
            -0.0041960761386756f * l - 0.7034186179359362f * m + 1.7076146940746117f * s};
}

bool isScreenColour(Rgb c)
{
    const float most = std::max({c.x, c.y, c.z});
    return std::min({c.x, c.y, c.z}) >= -kRounding * std::min(1.0f, 10 * most) && most <= 1 + kRounding;
}

float strongestChroma(float lightness, float hue)
{
    float inside = 0, outside = 0.4f;
    while (outside - inside > 1e-4f) {
        const float middle = (inside + outside) / 2;
        (isScreenColour(fromOklch({lightness, middle, hue})) ? inside : outside) = middle;
    }
    return inside;
}

Rgb onScreen(const Oklch& colour)
{
    const Rgb c = fromOklch({colour.lightness, std::min(colour.chroma, strongestChroma(colour.lightness, colour.hue)), colour.hue});
    return {std::clamp(c.x, 0.0f, 1.0f), std::clamp(c.y, 0.0f, 1.0f), std::clamp(c.z, 0.0f, 1.0f)};
}

std::vector<Rgb> harmoniesOf(const Oklch& colour)
{
    std::vector<Rgb> colours;
    for (const float by : {-30.0f, 30.0f, -120.0f, 120.0f, 150.0f, 180.0f, 210.0f})
        colours.push_back(onScreen({colour.lightness, colour.chroma, std::fmod(colour.hue + by + 360, 360.0f)}));
    return colours;
}

Rgb mixedInOklab(Rgb from, Rgb to, float share)
{
    const auto straight = [](const Oklch& c) {
        const float a = c.hue * static_cast<float>(base::kPi / 180);
        return base::Vec3f{c.lightness, c.chroma * std::cos(a), c.chroma * std::sin(a)};
    };
    const base::Vec3f c = lerp(straight(toOklch(from)), straight(toOklch(to)), share);
    const float hue = std::atan2(c.z, c.y) * static_cast<float>(180 / base::kPi);
    return onScreen({c.x, std::hypot(c.y, c.z), hue < 0 ? hue + 360 : hue});
}

std::vector<Rgb> stepsBetween(Rgb from, Rgb to, int count)
{
    std::vector<Rgb> colours;
    for (int i = 1; i <= count; ++i)
        colours.push_back(mixedInOklab(from, to, static_cast<float>(i) / static_cast<float>(count + 1)));
    return colours;
}

}  // namespace picture
