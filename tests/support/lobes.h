// How surfaces are held against their own sampling.
#pragma once

#include "base/units.h"
#include "render/sampler.h"
#include "support/support.h"
#include "surface/layered.h"

namespace support {

// A direction so far from the normal, towards x.
inline base::Vec3f at(double degrees)
{
    const double a = base::radians(degrees);
    return {float(std::sin(a)), 0, float(std::cos(a))};
}

// Albedo towards a view by the surface's own sampling: mean weight.
template <class AnySurface>
double sampledAlbedo(const AnySurface& surface, int samples)
{
    double sum = 0;
    for (int i = 0; i < samples; ++i) {
        render::Sampler sampler(7, 11, static_cast<std::uint32_t>(i), 1);
        const auto [u, v] = sampler.next2();
        sum += surface.sample(sampler.next1(), u, v).weight.x;
    }
    return sum / samples;
}

// Pearson's chi-square of what sample() draws against the density that evaluate() gives, over directions with z from `lowest` to 1; what is
// wrong, or empty. 1 in 10,000 would fail by chance.
inline QString densityIsWrong(const surface::LayeredSurface& surface, double lowest, int rows, int columns)
{
    constexpr int kSamples = 100000, kFine = 90;
    std::vector<double> expected(std::size_t(rows * columns) + 1), found(expected.size());  // the last: nothing is drawn
    const auto cellOf = [&](const base::Vec3f& d) {
        const int row = std::clamp(int((double(d.z) - lowest) / (1 - lowest) * rows), 0, rows - 1);
        return std::size_t(row * columns + std::min(columns - 1, int((std::atan2(d.y, d.x) / (2 * base::kPi) + 0.5) * columns)));
    };
    std::uint32_t h = 1;
    const auto next = [&] {
        h = render::mixBits(h + 0x9e3779b9u);
        return float(h >> 8) * 0x1p-24f;
    };
    for (int i = 0; i < kSamples; ++i) {
        const float choice = next(), u = next(), v = next();
        const auto s = surface.sample(choice, u, v);
        ++found[s.pdf > 0 ? cellOf(s.direction) : found.size() - 1];
    }
    const double cell = (1 - lowest) / (rows * kFine) * (2 * base::kPi / (columns * kFine));
    double sum = 0;
    for (int i = 0; i < rows * kFine; ++i)
        for (int j = 0; j < columns * kFine; ++j) {
            const double z = lowest + (1 - lowest) * (i + 0.5) / (rows * kFine), s = std::sqrt(1 - z * z);
            const double phi = ((j + 0.5) / (columns * kFine) - 0.5) * 2 * base::kPi;
            const base::Vec3f d{float(s * std::cos(phi)), float(s * std::sin(phi)), float(z)};
            const double share = double(surface.evaluate(d).pdf) * cell;
            expected[cellOf(d)] += share * kSamples;
            sum += share;
        }
    if (sum > 1.003)
        return QString("the density comes to %1").arg(sum);
    expected.back() = std::max(0.0, 1 - sum) * kSamples;
    return support::unlikely(found, expected, 20);
}

}  // namespace support
