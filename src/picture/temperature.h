// The colour of light by its temperature.
#pragma once

#include "picture/colour.h"

namespace picture {

inline constexpr double kWhiteKelvin = 6504;  // illuminant D65: white here

// Light of that correlated colour temperature, 1000 to 25000 K, with luminance 1, linear sRGB: on the Planckian locus (Planck's law and the
// CIE 1931 observer, c2 = 0.014388 m K) to 4000 K, on the CIE daylight locus (CIE 15:2004, 3.1) from 5000 K on, and mixed between them as
// the reference illuminants of CIE 224:2017 are. Colours outside sRGB lose what is negative. Exactly white at kWhiteKelvin.
Rgb rgbOfTemperature(double kelvin);

}  // namespace picture
