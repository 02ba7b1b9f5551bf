#include "finish/noise.h"

#include <cmath>
#include <numbers>

#include "render/sampler.h"

namespace finish {

namespace {

// Two lattices, turned and shifted against each other, so that none is seen; neither lies along the pixels: those would fall on the same
// places of all cells.
struct Lattice {
    double cosine, sine, shiftX, shiftY;
    std::uint32_t seed;
};
constexpr Lattice kLattices[] = {{0.9387913, 0.3445086, 0, 0, 0}, {0.6293204, -0.7771460, 0.37, 0.61, 0x9e3779b9u}};
constexpr float kOfOne = 0.4289f;  // standard deviation of values between -1 and 1 mixed by smooth steps: ((26/35)^2 / 3)^(1/2)
constexpr float kToOne = 1 / (kOfOne * std::numbers::sqrt2_v<float>);

[[gnu::always_inline]] inline float corner(std::uint32_t hash)
{
    return static_cast<float>(static_cast<std::int32_t>(render::mixBits(hash) >> 8)) * 0x1p-23f - 1;
}

// Between the corners of cell (ix, iy), at (u, v) in it.
[[gnu::always_inline]] inline float inCell(std::uint32_t ix, std::uint32_t iy, float u, float v, std::uint32_t seed)
{
    const std::uint32_t top = render::mixBits(iy + seed), low = render::mixBits(iy + 1 + seed);
    const float a = corner(ix + top), b = corner(ix + 1 + top), c = corner(ix + low), d = corner(ix + 1 + low);
    const float su = u * u * (3 - 2 * u), sv = v * v * (3 - 2 * v);
    const float upper = a + (b - a) * su, lower = c + (d - c) * su;
    return upper + (lower - upper) * sv;
}

}  // namespace

float noiseAt(double x, double y, std::uint32_t seed)
{
    float sum = 0;
    for (const Lattice& l : kLattices) {
        const double px = x * l.cosine - y * l.sine + l.shiftX, py = x * l.sine + y * l.cosine + l.shiftY, fx = std::floor(px),
                     fy = std::floor(py);
        sum += inCell(static_cast<std::uint32_t>(static_cast<std::int64_t>(fx)), static_cast<std::uint32_t>(static_cast<std::int64_t>(fy)),
                      static_cast<float>(px - fx), static_cast<float>(py - fy), seed + l.seed);
    }
    return sum * kToOne;
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void
addNoise(float* to, int x0, int x1, double u, double v, double du, double dv, float strength, std::uint32_t seed)
{
    for (const Lattice& l : kLattices) {
        const double px = u * l.cosine - v * l.sine + l.shiftX, py = u * l.sine + v * l.cosine + l.shiftY, fx = std::floor(px),
                     fy = std::floor(py);
        const auto cellX = static_cast<std::uint32_t>(static_cast<std::int64_t>(fx)),
                   cellY = static_cast<std::uint32_t>(static_cast<std::int64_t>(fy));
        const auto firstX = static_cast<float>(px - fx), firstY = static_cast<float>(py - fy),
                   dx = static_cast<float>(du * l.cosine - dv * l.sine), dy = static_cast<float>(du * l.sine + dv * l.cosine);
        const std::uint32_t own = seed + l.seed;
        for (int x = x0; x < x1; ++x) {
            const float qx = firstX + static_cast<float>(x) * dx, qy = firstY + static_cast<float>(x) * dy;
            auto ix = static_cast<std::int32_t>(qx), iy = static_cast<std::int32_t>(qy);
            ix -= static_cast<float>(ix) > qx ? 1 : 0;
            iy -= static_cast<float>(iy) > qy ? 1 : 0;
            to[x - x0] += strength * kToOne *
                          inCell(cellX + static_cast<std::uint32_t>(ix), cellY + static_cast<std::uint32_t>(iy),
                                 qx - static_cast<float>(ix), qy - static_cast<float>(iy), own);
        }
    }
}

float chanceOf(std::uint32_t number, std::uint32_t seed)
{
    return static_cast<float>(render::mixBits(number + render::mixBits(seed)) >> 8) * 0x1p-24f;
}

}  // namespace finish
