// Numbers for one sample of one pixel: Owen-scrambled Sobol points in pairs of dimensions, each pair shuffled by itself
// (B. Burley, Practical Hash-based Owen Scrambling, JCGT 2020). The numbers depend on pixel, sample and seed alone. Even and odd samples
// are two sequences of their own: the halves of a film know nothing of each other, so that their difference tells its noise. (Of one
// sequence each half has its own half of every first dimension, and they differ by far more than the whole errs.)
#pragma once

#include <array>
#include <cstdint>

#include "base/lanes.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it

// Bits of one path, or of as many as stand side by side.
template <class F>
struct BitsOf;
template <>
struct BitsOf<float> {
    using Type = std::uint32_t;
    static float toUnit(std::uint32_t x) { return static_cast<float>(x >> 8) * 0x1p-24f; }
};
template <>
struct BitsOf<Wide> {
    using Type = BitLanes;
    static Wide toUnit(BitLanes x) { return asFloat(x >> 8) * 0x1p-24f; }
};

template <class Bits>
Bits mixBits(Bits x)  // a full-avalanche hash (C. Wellons' "lowbias32" constants)
{
    x = (x ^ x >> 16) * 0x7feb352du;
    x = (x ^ x >> 15) * 0x846ca68bu;
    return x ^ x >> 16;
}

template <class F>
class SamplerOf {
public:
    using Bits = typename BitsOf<F>::Type;

    SamplerOf() = default;
    SamplerOf(Bits x, Bits y, Bits sample, std::uint32_t seed)
        : m_sample(reverse(sample >> 1)), m_pixel(mixBits(x + mixBits(y + mixBits(seed + 0x9e3779b9u * (1 + (sample & 1))))))
    {
    }

    // Two numbers in [0, 1).
    std::array<F, 2> next2()
    {
        const Bits seed = mixBits(m_pixel + 0x632be5abu * ++m_pair);
        const Bits index = reverse(scramble(m_sample, seed));
        return {toUnit(reverse(scramble(index, mixBits(seed + 1)))), toUnit(reverse(scramble(sobolSecond(index), mixBits(seed + 2))))};
    }
    F next1() { return next2()[0]; }

    // The number of the sample, as it was given, or one less.
    Bits number() const { return reverse(m_sample) << 1; }

    void takeLane(int to, const SamplerOf& from, int lane)
    {
        m_sample[to] = from.m_sample[lane];
        m_pixel[to] = from.m_pixel[lane];
        m_pair = from.m_pair;
    }

private:
    static F toUnit(Bits x) { return BitsOf<F>::toUnit(x); }

    static Bits reverse(Bits x)
    {
        x = x << 24 | (x & 0xff00u) << 8 | (x >> 8 & 0xff00u) | x >> 24;
        x = (x & 0x0f0f0f0fu) << 4 | (x >> 4 & 0x0f0f0f0fu);
        x = (x & 0x33333333u) << 2 | (x >> 2 & 0x33333333u);
        return (x & 0x55555555u) << 1 | (x >> 1 & 0x55555555u);
    }

    // Nested uniform scrambling of reversed bits: the hash of Laine and Karras (2011) with the constants of Burley's paper.
    static Bits scramble(Bits x, Bits seed)
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
    static Bits sobolSecond(Bits x)
    {
        x ^= x >> 16;
        x ^= (x & 0xff00ff00u) >> 8;
        x ^= (x & 0xf0f0f0f0u) >> 4;
        x ^= (x & 0xccccccccu) >> 2;
        x ^= (x & 0xaaaaaaaau) >> 1;
        return x;
    }

    Bits m_sample{};  // bits reversed
    Bits m_pixel{};
    std::uint32_t m_pair = 0;  // the same for all that stand side by side
};
using Sampler = SamplerOf<float>;

}  // namespace render
