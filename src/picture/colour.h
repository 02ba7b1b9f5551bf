// Colour between light and screen.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "base/vec.h"

namespace picture {

using base::Rgb;

// sRGB transfer function (IEC 61966-2-1), scalar, mirrored for negative values; 0 to 1 maps to 0 to 1.
float encodeSrgb(float linear);
float decodeSrgb(float encoded);
Rgb encodeSrgb(Rgb linear);
// From a table, for pictures that are gone in a moment: 0 to 1, clamped, within 1e-4 of encodeSrgb().
Rgb encodeSrgbQuickly(Rgb linear);
Rgb decodeSrgb(Rgb encoded);

// How light becomes screen colour, both linear sRGB to linear sRGB in 0 to 1.
enum class ViewTransform {
    TrueColour,  // typed is seen: identity to 0.95, above it the largest channel approaches 1 and hue is kept
    SoftWhites,  // bright whites roll off: Khronos PBR Neutral tone mapper (specification of 2024), which darkens by up to 0.04
};
Rgb applyViewTransform(Rgb linear, ViewTransform transform);

// "#E8664F", "e8664f" or "#e64" as linear light; nothing for anything else. And back, rounded to 8 bits.
std::optional<Rgb> rgbFromHex(std::string_view hex);
std::string hexFromRgb(Rgb linear);

}  // namespace picture
