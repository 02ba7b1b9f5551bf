#include "finish/blend.h"

#include <algorithm>
#include <cmath>

namespace finish {

namespace {

float multiply(float b, float s)
{
    return b * s;
}

float screen(float b, float s)
{
    return b + s - b * s;
}

float hardLight(float b, float s)
{
    return s <= 0.5f ? multiply(b, 2 * s) : screen(b, 2 * s - 1);
}

float colorDodge(float b, float s)
{
    return b <= 0 ? 0 : s >= 1 ? 1 : std::min(1.0f, b / (1 - s));
}

float colorBurn(float b, float s)
{
    return b >= 1 ? 1 : s <= 0 ? 0 : 1 - std::min(1.0f, (1 - b) / s);
}

float softLight(float b, float s)
{
    if (s <= 0.5f)
        return b - (1 - 2 * s) * b * (1 - b);
    const float d = b <= 0.25f ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
    return b + (2 * s - 1) * (d - b);
}

float separable(Blend blend, float b, float s)
{
    switch (blend) {
    case Blend::Multiply:
        return multiply(b, s);
    case Blend::Screen:
        return screen(b, s);
    case Blend::Overlay:
        return hardLight(s, b);
    case Blend::Darken:
        return std::min(b, s);
    case Blend::Lighten:
        return std::max(b, s);
    case Blend::ColorDodge:
        return colorDodge(b, s);
    case Blend::ColorBurn:
        return colorBurn(b, s);
    case Blend::HardLight:
        return hardLight(b, s);
    case Blend::SoftLight:
        return softLight(b, s);
    case Blend::Difference:
        return std::abs(b - s);
    case Blend::Exclusion:
        return b + s - 2 * b * s;
    case Blend::PlusLighter:
        return std::min(1.0f, b + s);
    default:
        return s;
    }
}

// Non-separable ones: section 10.2.
float lumOf(Rgb c)
{
    return 0.3f * c.x + 0.59f * c.y + 0.11f * c.z;
}

float satOf(Rgb c)
{
    return std::max({c.x, c.y, c.z}) - std::min({c.x, c.y, c.z});
}

Rgb clipColor(Rgb c)
{
    const float l = lumOf(c), n = std::min({c.x, c.y, c.z}), x = std::max({c.x, c.y, c.z});
    const Rgb grey{l, l, l};
    if (n < 0)
        c = grey + (c - grey) * (l / std::max(l - n, 1e-7f));
    if (x > 1)
        c = grey + (c - grey) * ((1 - l) / std::max(x - l, 1e-7f));
    return c;
}

Rgb withLum(Rgb c, float l)
{
    const float d = l - lumOf(c);
    return clipColor(c + Rgb{d, d, d});
}

Rgb withSat(Rgb c, float s)
{
    const float least = std::min({c.x, c.y, c.z}), range = satOf(c);
    return range > 0 ? (c - Rgb{least, least, least}) * (s / range) : Rgb{};
}

}  // namespace

Rgb blended(Blend blend, Rgb below, Rgb over)
{
    switch (blend) {
    case Blend::Hue:
        return withLum(withSat(over, satOf(below)), lumOf(below));
    case Blend::Saturation:
        return withLum(withSat(below, satOf(over)), lumOf(below));
    case Blend::Color:
        return withLum(over, lumOf(below));
    case Blend::Luminosity:
        return withLum(below, lumOf(over));
    default:
        return {separable(blend, below.x, over.x), separable(blend, below.y, over.y), separable(blend, below.z, over.z)};
    }
}

Covered composited(Blend blend, const Covered& below, Rgb over, float alpha)
{
    if (alpha <= 0)
        return below;
    const float b = below.alpha;
    if (blend == Blend::PlusLighter) {
        const float sum = std::min(1.0f, b + alpha);
        const Rgb light = over * alpha + below.colour * b;
        const auto cut = [](float v) { return std::min(1.0f, v); };
        return {Rgb{cut(light.x), cut(light.y), cut(light.z)} * (1 / sum), sum};
    }
    const Rgb mixed = over * (1 - b) + blended(blend, below.colour, over) * b;
    const float sum = alpha + b * (1 - alpha);
    return {(mixed * alpha + below.colour * (b * (1 - alpha))) * (1 / sum), sum};
}

}  // namespace finish
