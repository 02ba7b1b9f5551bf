#include "picture/temperature.h"

#include <algorithm>
#include <cmath>

#include "picture/cie1931.h"

namespace picture {

namespace {

struct Xyz {
    double x = 0, y = 0, z = 0;  // y is 1

    Xyz mixedWith(const Xyz& o, double share) const { return {x + (o.x - x) * share, 1, z + (o.z - z) * share}; }
};

Xyz planckian(double kelvin)
{
    constexpr double kC2 = 0.014388;  // m K, as CIE 15 has it
    double x = 0, y = 0, z = 0;
    for (int i = 0; i < kCieRows; ++i) {
        const double metres = static_cast<double>(cieWavelength(i)) * 1e-9;
        const double power = 1 / (std::pow(metres * 1e6, 5) * std::expm1(kC2 / (metres * kelvin)));
        x += power * static_cast<double>(kCie1931[i].x);
        y += power * static_cast<double>(kCie1931[i].y);
        z += power * static_cast<double>(kCie1931[i].z);
    }
    return {x / y, 1, z / y};
}

Xyz daylight(double t)
{
    const double x = t <= 7000 ? ((-4.6070e9 / t + 2.9678e6) / t + 0.09911e3) / t + 0.244063
                               : ((-2.0064e9 / t + 1.9018e6) / t + 0.24748e3) / t + 0.237040;
    const double y = (-3 * x + 2.87) * x - 0.275;
    return {x / y, 1, (1 - x - y) / y};
}

Xyz ofTemperature(double kelvin)
{
    if (kelvin <= 4000)
        return planckian(kelvin);
    if (kelvin >= 5000)
        return daylight(kelvin);
    return planckian(kelvin).mixedWith(daylight(kelvin), (kelvin - 4000) / 1000);
}

}  // namespace

Rgb rgbOfTemperature(double kelvin)
{
    if (kelvin == kWhiteKelvin)
        return {1, 1, 1};
    const Xyz c = ofTemperature(std::clamp(kelvin, 1000.0, 25000.0));
    // IEC 61966-2-1.
    const auto only = [](double v) { return static_cast<float>(std::max(0.0, v)); };
    const Rgb rgb{only(3.2406 * c.x - 1.5372 - 0.4986 * c.z), only(-0.9689 * c.x + 1.8758 + 0.0415 * c.z),
                  only(0.0557 * c.x - 0.2040 + 1.0570 * c.z)};
    return rgb * (1 / luminance(rgb));
}

}  // namespace picture
