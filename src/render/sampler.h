// Numbers for one sample of one pixel: Owen-scrambled Sobol points in pairs of dimensions, each pair shuffled by itself
// (B. Burley, Practical Hash-based Owen Scrambling, JCGT 2020). The numbers depend on pixel, sample and seed alone.
#pragma once

#include <array>
#include <cstdint>

namespace render {

inline std::uint32_t mixBits(std::uint32_t x)  // a full-avalanche hash (C. Wellons' "lowbias32" constants)
{
    x = (x ^ x >> 16) * 0x7feb352du;
    x = (x ^ x >> 15) * 0x846ca68bu;
    return x ^ x >> 16;
}

class Sampler {
public:
    Sampler(int x, int y, std::uint32_t sample, std::uint32_t seed)
        : m_sample(sample), m_pixel(mixBits(static_cast<std::uint32_t>(x) + mixBits(static_cast<std::uint32_t>(y) + mixBits(seed + 0x9e3779b9u))))
    {
    }

    // Two numbers in [0, 1).
    std::array<float, 2> next2()
    {
        const std::uint32_t seed = mixBits(m_pixel + 0x632be5abu * ++m_pair);
        const std::uint32_t index = scramble(m_sample, seed);
        return {toFloat(scramble(reverse(index), mixBits(seed + 1))), toFloat(scramble(sobolSecond(index), mixBits(seed + 2)))};
    }
    float next1() { return next2()[0]; }

private:
    static std::uint32_t reverse(std::uint32_t x)
    {
        x = __builtin_bswap32(x);
        x = (x & 0x0f0f0f0fu) << 4 | (x >> 4 & 0x0f0f0f0fu);
        x = (x & 0x33333333u) << 2 | (x >> 2 & 0x33333333u);
        return (x & 0x55555555u) << 1 | (x >> 1 & 0x55555555u);
    }

    // Nested uniform scrambling: the hash of Laine and Karras (2011) with the constants of Burley's paper.
    static std::uint32_t scramble(std::uint32_t x, std::uint32_t seed)
    {
        x = reverse(x) + seed;
        x ^= x * 0x6c50b47cu;
        x ^= x * 0xb82f1e52u;
        x ^= x * 0xc7afe638u;
        x ^= x * 0x8d22f6e6u;
        return reverse(x);
    }

    // Second Sobol dimension: its generator matrix is Pascal's triangle modulo 2, whose columns follow from each other.
    static std::uint32_t sobolSecond(std::uint32_t index)
    {
        std::uint32_t result = 0;
        for (std::uint32_t column = 0x80000000u; index; index >>= 1, column ^= column >> 1)
            if (index & 1)
                result ^= column;
        return result;
    }

    static float toFloat(std::uint32_t x) { return static_cast<float>(x >> 8) * 0x1p-24f; }

    std::uint32_t m_sample;
    std::uint32_t m_pixel;
    std::uint32_t m_pair = 0;
};

}  // namespace render
