// Lengths are points inside: 1 in = 72 pt (PDF user space, ISO 32000) = 25.4 mm (international yard and pound agreement 1959).
#pragma once

#include "base/vec.h"

namespace base {

inline constexpr double kPtPerInch = 72.0;
inline constexpr double kMmPerInch = 25.4;

constexpr double ptFromMm(double mm)
{
    return mm * kPtPerInch / kMmPerInch;
}
constexpr double mmFromPt(double pt)
{
    return pt * kMmPerInch / kPtPerInch;
}
constexpr double radians(double degrees)
{
    return degrees * std::numbers::pi / 180;
}
constexpr double degrees(double radians)
{
    return radians * 180 / std::numbers::pi;
}

}  // namespace base
