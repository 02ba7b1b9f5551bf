#include "finish/tone.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "picture/colour.h"
#include "picture/oklab.h"
#include "picture/temperature.h"

namespace finish {

namespace {

constexpr double kMostMired = 60;  // that warmth turns the light by
constexpr float kEnds = 0.2f;      // of the scale, that whites and blacks move
constexpr float kMostTint = 0.3f;  // stops

// 0 and 1 stay but for whites and blacks; rising for all values in range.
float parts(const Tone& t, float v)
{
    const auto whites = static_cast<float>(t.whites), blacks = static_cast<float>(t.blacks);
    v = whites >= 0 ? v / (1 - kEnds * whites) : v * (1 + kEnds * whites);
    v = std::min(v, 1.0f);
    v = blacks >= 0 ? v + kEnds * blacks * (1 - v) : std::max(0.0f, (v + kEnds * blacks) / (1 + kEnds * blacks));
    v += static_cast<float>(t.highlights) * v * v * (1 - v);
    v += static_cast<float>(t.shadows) * v * (1 - v) * (1 - v);
    const auto contrast = static_cast<float>(t.contrast);
    if (contrast < 0)
        return 0.5f + (v - 0.5f) * (1 + contrast);
    const float power = std::exp2(contrast);
    return v < 0.5f ? 0.5f * std::pow(2 * v, power) : 1 - 0.5f * std::pow(2 - 2 * v, power);
}

Rgb lightFactor(const Tone& t)
{
    Rgb factor{1, 1, 1};
    if (t.warmth != 0)
        factor = picture::rgbOfTemperature(1e6 / (1e6 / picture::kWhiteKelvin + kMostMired * t.warmth));
    const auto tint = static_cast<float>(t.tint) * kMostTint;
    factor = factor * Rgb{std::exp2(-tint / 2), std::exp2(tint), std::exp2(-tint / 2)};
    return factor * (std::exp2(static_cast<float>(t.exposure)) / luminance(factor));
}

Curve channel(const Tone& t, float factor)
{
    return Curve([&](float v) {
        const float lit = factor == 1 ? v : picture::encodeSrgb(picture::decodeSrgb(v) * factor);
        return std::clamp(parts(t, std::min(lit, 1.0f)), 0.0f, 1.0f);
    });
}

constexpr float kR = 0.213f, kG = 0.715f, kB = 0.072f;  // as W3C Filter Effects rounds them

std::array<Rgb, 3> mixing(const Tone& t)
{
    const auto s = static_cast<float>(1 + t.saturation);
    const std::array<Rgb, 3> saturate{Rgb{kR + (1 - kR) * s, kG - kG * s, kB - kB * s}, Rgb{kR - kR * s, kG + (1 - kG) * s, kB - kB * s},
                                      Rgb{kR - kR * s, kG - kG * s, kB + (1 - kB) * s}};
    const auto turn = static_cast<float>(base::radians(t.hue));
    const float c = std::cos(turn), n = std::sin(turn);
    const std::array<Rgb, 3> hue{
        Rgb{kR + c * (1 - kR) - n * kR, kG - c * kG - n * kG, kB - c * kB + n * (1 - kB)},
        Rgb{kR - c * kR + n * 0.143f, kG + c * (1 - kG) + n * 0.140f, kB - c * kB - n * 0.283f},
        Rgb{kR - c * kR - n * (1 - kR), kG - c * kG + n * kG, kB + c * (1 - kB) + n * kB},
    };
    std::array<Rgb, 3> both;
    for (std::size_t i = 0; i < 3; ++i)
        both[i] = saturate[0] * hue[i].x + saturate[1] * hue[i].y + saturate[2] * hue[i].z;
    return both;
}

}  // namespace

ToneMaker::ToneMaker(const Tone& t)
    : m_curves{channel(t, lightFactor(t).x), channel(t, lightFactor(t).y), channel(t, lightFactor(t).z)},
      m_matrix(mixing(t)),
      m_vibrance(static_cast<float>(t.vibrance)),
      m_mixes(t.saturation != 0 || t.hue != 0)
{
}

Rgb ToneMaker::at(Rgb encoded) const
{
    Rgb c{m_curves[0].at(encoded.x), m_curves[1].at(encoded.y), m_curves[2].at(encoded.z)};
    if (m_mixes)
        c = {dot(m_matrix[0], c), dot(m_matrix[1], c), dot(m_matrix[2], c)};
    if (m_vibrance != 0) {
        const float pale = 1 - (std::max({c.x, c.y, c.z}) - std::min({c.x, c.y, c.z})), luma = lumaOf(c);
        c = Rgb{luma, luma, luma} + (c - Rgb{luma, luma, luma}) * (1 + m_vibrance * std::clamp(pale, 0.0f, 1.0f));
    }
    return {std::clamp(c.x, 0.0f, 1.0f), std::clamp(c.y, 0.0f, 1.0f), std::clamp(c.z, 0.0f, 1.0f)};
}

float levelsAt(const Levels& l, float encoded)
{
    const double range = l.high - l.low;
    const double v =
        std::abs(range) < 1e-6 ? (encoded >= l.low ? 1 : 0) : std::clamp((static_cast<double>(encoded) - l.low) / range, 0.0, 1.0);
    return static_cast<float>(l.outLow + (l.outHigh - l.outLow) * std::pow(v, 1 / l.middle));
}

Ramp::Ramp(Rgb from, Rgb to)
    : m_curves{Curve([&](float t) { return picture::encodeSrgb(picture::mixedInOklab(from, to, t)).x; }),
               Curve([&](float t) { return picture::encodeSrgb(picture::mixedInOklab(from, to, t)).y; }),
               Curve([&](float t) { return picture::encodeSrgb(picture::mixedInOklab(from, to, t)).z; })}
{
}

}  // namespace finish
