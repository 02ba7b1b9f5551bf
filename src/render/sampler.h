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
        : m_sample(reverse(sample)), m_pixel(mixBits(static_cast<std::uint32_t>(x) + mixBits(static_cast<std::uint32_t>(y) + mixBits(seed + 0x9e3779b9u))))
    {
    }

    // Two numbers in [0, 1).
    std::array<float, 2> next2()
    {
        const std::uint32_t seed = mixBits(m_pixel + 0x632be5abu * ++m_pair);
        const std::uint32_t index = reverse(scramble(m_sample, seed));
        return {toFloat(reverse(scramble(index, mixBits(seed + 1)))), toFloat(reverse(scramble(sobolSecond(index), mixBits(seed + 2))))};
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

    // Nested uniform scrambling of reversed bits: the hash of Laine and Karras (2011) with the constants of Burley's paper.
    static std::uint32_t scramble(std::uint32_t x, std::uint32_t seed)
    {
        x += seed;
        x ^= x * 0x6c50b47cu;
        x ^= x * 0xb82f1e52u;
        x ^= x * 0xc7afe638u;
        x ^= x * 0x8d22f6e6u;
        return x;
    }

    // Second Sobol dimension, bits reversed: its generator matrix is Pascal's triangle modulo 2, which is made of copies of its upper left
    // quarter, so the product takes a step for each power of two.
    static std::uint32_t sobolSecond(std::uint32_t x)
    {
        x ^= x >> 16;
        x ^= (x & 0xff00ff00u) >> 8;
        x ^= (x & 0xf0f0f0f0u) >> 4;
        x ^= (x & 0xccccccccu) >> 2;
        x ^= (x & 0xaaaaaaaau) >> 1;
        return x;
    }

    static float toFloat(std::uint32_t x) { return static_cast<float>(x >> 8) * 0x1p-24f; }

    std::uint32_t m_sample;  // bits reversed
    std::uint32_t m_pixel;
    std::uint32_t m_pair = 0;
};

}  // namespace render
