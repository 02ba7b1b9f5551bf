#include "picture/colour.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace picture {

namespace {

constexpr float kTrueColourKnee = 0.95f;

Rgb trueColour(Rgb c)
{
    const float peak = largest(c);
    if (peak <= kTrueColourKnee)
        return c;
    const float room = 1 - kTrueColourKnee;
    return c * ((kTrueColourKnee + room * (1 - std::exp((kTrueColourKnee - peak) / room))) / peak);
}

Rgb softWhites(Rgb c)
{
    constexpr float kF90 = 0.04f, kKnee = 0.8f - kF90, kDesaturation = 0.15f;
    const float low = std::min(c.x, std::min(c.y, c.z));
    const float offset = low < 2 * kF90 ? low - low * low / (4 * kF90) : kF90;
    c = c - Rgb{offset, offset, offset};
    const float peak = largest(c);
    if (peak < kKnee)
        return c;
    const float d = 1 - kKnee;
    const float newPeak = 1 - d * d / (peak + d - kKnee);
    c = c * (newPeak / peak);
    const float g = 1 - 1 / (kDesaturation * (peak - newPeak) + 1);
    return lerp(c, Rgb{newPeak, newPeak, newPeak}, g);
}

}  // namespace

float encodeSrgb(float v)
{
    if (v < 0)
        return -encodeSrgb(-v);
    return v <= 0.0031308f ? 12.92f * v : 1.055f * std::pow(v, 1 / 2.4f) - 0.055f;
}

float decodeSrgb(float v)
{
    if (v < 0)
        return -decodeSrgb(-v);
    return v <= 0.04045f ? v / 12.92f : std::pow((v + 0.055f) / 1.055f, 2.4f);
}

Rgb encodeSrgb(Rgb c)
{
    return {encodeSrgb(c.x), encodeSrgb(c.y), encodeSrgb(c.z)};
}

Rgb encodeSrgbQuickly(Rgb c)
{
    // Linear between entries at the squares of even steps, where the curve is nearly straight.
    constexpr int kSteps = 4096;
    static const std::array<float, kSteps + 2> s_table = [] {
        std::array<float, kSteps + 2> table{};
        for (int i = 0; i < kSteps + 2; ++i)
            table[static_cast<std::size_t>(i)] = encodeSrgb(static_cast<float>(i) * static_cast<float>(i) / (kSteps * kSteps));
        return table;
    }();
    const auto channel = [&](float v) {
        const float at = std::sqrt(std::clamp(v, 0.0f, 1.0f)) * kSteps;
        const auto i = static_cast<std::size_t>(at);
        return s_table[i] + (at - static_cast<float>(i)) * (s_table[i + 1] - s_table[i]);
    };
    return {channel(c.x), channel(c.y), channel(c.z)};
}

Rgb decodeSrgb(Rgb c)
{
    return {decodeSrgb(c.x), decodeSrgb(c.y), decodeSrgb(c.z)};
}

Rgb applyViewTransform(Rgb c, ViewTransform transform)
{
    c = {std::max(c.x, 0.0f), std::max(c.y, 0.0f), std::max(c.z, 0.0f)};
    return transform == ViewTransform::TrueColour ? trueColour(c) : softWhites(c);
}

std::optional<Rgb> rgbFromHex(std::string_view hex)
{
    if (!hex.empty() && hex.front() == '#')
        hex.remove_prefix(1);
    if (hex.size() != 3 && hex.size() != 6)
        return std::nullopt;
    int digits[6];
    for (std::size_t i = 0; i < 6; ++i) {
        const char c = hex[hex.size() == 3 ? i / 2 : i];
        if (c >= '0' && c <= '9')
            digits[i] = c - '0';
        else if (c >= 'a' && c <= 'f')
            digits[i] = c - 'a' + 10;
        else if (c >= 'A' && c <= 'F')
            digits[i] = c - 'A' + 10;
        else
            return std::nullopt;
    }
    const auto channel = [&](int i) { return static_cast<float>(digits[2 * i] * 16 + digits[2 * i + 1]) / 255; };
    return decodeSrgb(Rgb{channel(0), channel(1), channel(2)});
}

std::string hexFromRgb(Rgb linear)
{
    const Rgb c = encodeSrgb(linear);
    const auto byte = [](float v) { return std::clamp(static_cast<int>(std::lround(v * 255)), 0, 255); };
    return fmt::format("#{:02X}{:02X}{:02X}", byte(c.x), byte(c.y), byte(c.z));
}

}  // namespace picture
