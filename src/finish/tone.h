// Colours changed by themselves, on encoded sRGB: tone, levels, two colours.
#pragma once

#include <algorithm>
#include <array>
#include <vector>

#include "finish/layers.h"

namespace finish {

// A curve from 0 to 1, looked up.
class Curve {
public:
    static constexpr int kSteps = 2048;

    template <class Function>
    explicit Curve(Function f) : m_values(kSteps + 1)
    {
        for (int i = 0; i <= kSteps; ++i)
            m_values[static_cast<std::size_t>(i)] = f(static_cast<float>(i) / kSteps);
    }
    float at(float v) const
    {
        const float place = (v > 0 ? std::min(v, 1.0f) : 0.0f) * kSteps;  // what is no number counts as 0
        const auto i = static_cast<std::size_t>(std::min(static_cast<int>(place), kSteps - 1));
        return m_values[i] + (m_values[i + 1] - m_values[i]) * (place - static_cast<float>(i));
    }

private:
    std::vector<float> m_values;
};

// Light first (exposure, warmth, tint: factors on linear values), then the curve of its parts, then saturation and hue (matrices of W3C
// Filter Effects Level 1, saturate and hueRotate).
class ToneMaker {
public:
    explicit ToneMaker(const Tone& tone);
    Rgb at(Rgb encoded) const;

private:
    std::array<Curve, 3> m_curves;
    std::array<Rgb, 3> m_matrix;
    float m_vibrance;
    bool m_mixes;
};

float levelsAt(const Levels& levels, float encoded);

// Luma of encoded values, by the weights of Rec. 709.
inline float lumaOf(Rgb c)
{
    return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z;
}

// From one colour to another, even to the eye (in Oklab), encoded.
class Ramp {
public:
    Ramp(Rgb from, Rgb to);
    Rgb at(float share) const { return {m_curves[0].at(share), m_curves[1].at(share), m_curves[2].at(share)}; }

private:
    std::array<Curve, 3> m_curves;
};

}  // namespace finish
