// Numbers side by side. The formulas of light transport are templates over F: float for one, Wide for kLanes paths at once. What
// depends on a condition is chosen by select(); a lane never sees what happens in another.
//
// Functions that work on Wide are built for several instruction sets (target_clones) with everything inside them (flatten, and
// always_inline where the compiler needs to be told). Other functions that take lanes get them by reference, and give them in a struct: how
// they are passed and returned by value depends on the instruction set. Without AVX2 the compiler takes the lanes apart: right, but no
// faster than one by one.
#pragma once

#include <cmath>
#include <cstdint>
#include <limits>

#include "base/vec.h"

namespace base {

inline constexpr int kLanes = 8;
inline constexpr float kPiFloat = 3.14159265f;
inline constexpr float kInfinity = std::numeric_limits<float>::infinity();

typedef float FloatLanes __attribute__((vector_size(4 * kLanes), aligned(4 * kLanes)));
typedef std::int32_t IntLanes __attribute__((vector_size(4 * kLanes), aligned(4 * kLanes)));
typedef std::uint32_t BitLanes __attribute__((vector_size(4 * kLanes), aligned(4 * kLanes)));

struct Wide {
    FloatLanes v{};

    Wide() = default;
    Wide(float same) : v(FloatLanes{} + same) {}
    explicit Wide(FloatLanes lanes) : v(lanes) {}
    float operator[](int lane) const { return v[lane]; }
    Wide& operator+=(Wide o) { return *this = Wide(v + o.v); }
    Wide& operator-=(Wide o) { return *this = Wide(v - o.v); }
    Wide& operator*=(Wide o) { return *this = Wide(v * o.v); }
    Wide operator-() const { return Wide(-v); }
    friend Wide operator+(Wide a, Wide b) { return Wide(a.v + b.v); }
    friend Wide operator-(Wide a, Wide b) { return Wide(a.v - b.v); }
    friend Wide operator*(Wide a, Wide b) { return Wide(a.v * b.v); }
    friend Wide operator/(Wide a, Wide b) { return Wide(a.v / b.v); }
};

struct WideInt {
    IntLanes v{};

    WideInt() = default;
    WideInt(int same) : v(IntLanes{} + same) {}
    explicit WideInt(IntLanes lanes) : v(lanes) {}
    int operator[](int lane) const { return v[lane]; }
    static WideInt countingFrom(int first) { return WideInt(IntLanes{0, 1, 2, 3, 4, 5, 6, 7} + first); }
    friend WideInt operator+(WideInt a, WideInt b) { return WideInt(a.v + b.v); }
    friend WideInt operator-(WideInt a, WideInt b) { return WideInt(a.v - b.v); }
    friend WideInt operator*(WideInt a, WideInt b) { return WideInt(a.v * b.v); }
    friend WideInt operator&(WideInt a, WideInt b) { return WideInt(a.v & b.v); }
};

// Which lanes; each is 0 or -1.
struct Mask {
    IntLanes v{};

    bool operator[](int lane) const { return v[lane] != 0; }
    friend Mask operator&(Mask a, Mask b) { return {a.v & b.v}; }
    friend Mask operator|(Mask a, Mask b) { return {a.v | b.v}; }
    friend Mask operator!(Mask a) { return {~a.v}; }
    static Mask firstOf(int count) { return {WideInt::countingFrom(0).v < count}; }
};

inline Mask operator<(Wide a, Wide b)
{
    return {a.v < b.v};
}
inline Mask operator<=(Wide a, Wide b)
{
    return {a.v <= b.v};
}
inline Mask operator>(Wide a, Wide b)
{
    return {a.v > b.v};
}
inline Mask operator>=(Wide a, Wide b)
{
    return {a.v >= b.v};
}
inline Mask operator==(WideInt a, WideInt b)
{
    return {a.v == b.v};
}
inline Mask operator>=(WideInt a, WideInt b)
{
    return {a.v >= b.v};
}

inline float select(bool c, float a, float b)
{
    return c ? a : b;
}
inline Wide select(Mask c, Wide a, Wide b)
{
    return Wide(c.v ? a.v : b.v);
}
inline WideInt select(Mask c, WideInt a, WideInt b)
{
    return WideInt(c.v ? a.v : b.v);
}
template <class M, class F>
V3<F> select(M c, V3<F> a, V3<F> b)
{
    return {select(c, a.x, b.x), select(c, a.y, b.y), select(c, a.z, b.z)};
}

inline bool any(bool c)
{
    return c;
}
inline bool any(Mask c)
{
    typedef long long Pairs __attribute__((vector_size(4 * kLanes)));
    const auto p = reinterpret_cast<Pairs>(c.v);
    return (p[0] | p[1] | p[2] | p[3]) != 0;
}
inline int countOf(Mask c)
{
    int count = 0;
    for (int i = 0; i < kLanes; ++i)
        count -= c.v[i];
    return count;
}

// Of a number that is none and another, the other: what goes through clamped() can be looked up in a table.
inline float min(float a, float b)
{
    return a < b ? a : b;
}
inline float max(float a, float b)
{
    return a > b ? a : b;
}
inline Wide min(Wide a, Wide b)
{
    return Wide(a.v < b.v ? a.v : b.v);
}
inline Wide max(Wide a, Wide b)
{
    return Wide(a.v > b.v ? a.v : b.v);
}
inline float root(float a)
{
    return std::sqrt(a);
}
inline Wide root(Wide a)
{
    Wide r;
    for (int i = 0; i < kLanes; ++i)
        r.v[i] = std::sqrt(a.v[i]);
    return r;
}
inline float absolute(float a)
{
    return std::abs(a);
}
inline Wide absolute(Wide a)
{
    return Wide(reinterpret_cast<FloatLanes>(reinterpret_cast<IntLanes>(a.v) & 0x7fffffff));
}
inline float signOf(float a)
{
    return std::copysign(1.0f, a);
}
inline Wide signOf(Wide a)
{
    return Wide(reinterpret_cast<FloatLanes>((reinterpret_cast<IntLanes>(a.v) & static_cast<int>(0x80000000)) | 0x3f800000));
}
template <class F>
F clamped(F a, F low, F high)
{
    return min(max(a, low), high);
}
inline bool isFinite(float a)
{
    return std::isfinite(a);
}
inline Mask isFinite(Wide a)
{
    return absolute(a) < Wide(kInfinity);
}

// Towards zero.
inline int whole(float a)
{
    return static_cast<int>(a);
}
inline WideInt whole(Wide a)
{
    return WideInt(__builtin_convertvector(a.v, IntLanes));
}
inline float asFloat(int a)
{
    return static_cast<float>(a);
}
inline Wide asFloat(WideInt a)
{
    return Wide(__builtin_convertvector(a.v, FloatLanes));
}
inline Wide asFloat(BitLanes a)
{
    return asFloat(WideInt(reinterpret_cast<IntLanes>(a)));
}  // below 2^31
inline float taken(const float* from, int index)
{
    return from[index];
}
inline Wide taken(const float* from, WideInt index)
{
    Wide r;
    for (int i = 0; i < kLanes; ++i)
        r.v[i] = from[index.v[i]];
    return r;
}

template <class F>
V3<F> spread(Vec3f v)
{
    return {F(v.x), F(v.y), F(v.z)};
}
inline Wide length(V3<Wide> a)
{
    return root(dot(a, a));
}
inline V3<Wide> normalized(V3<Wide> a)
{
    const Wide l = length(a);
    return select(l > 0, a / l, V3<Wide>{});
}
inline Wide largest(V3<Wide> a)
{
    return max(a.x, max(a.y, a.z));
}
inline Wide luminance(V3<Wide> c)
{
    return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z;
}
inline void setLane(V3<Wide>& v, int lane, Vec3f value)
{
    v.x.v[lane] = value.x;
    v.y.v[lane] = value.y;
    v.z.v[lane] = value.z;
}
inline Vec3f laneOf(const V3<Wide>& v, int lane)
{
    return {v.x[lane], v.y[lane], v.z[lane]};
}

// Sine and cosine of `turns` full turns, 0 <= turns <= 1, to 1e-7: Taylor's series within an eighth of a turn.
template <class F>
struct SinCos {
    F sine, cosine;
};
template <class F>
SinCos<F> sinCosOf(F turns)
{
    const auto quarter = whole(turns * 4 + 0.5f);
    const F x = (turns * 4 - asFloat(quarter)) * (kPiFloat / 2), x2 = x * x;
    const F s = x * (1 + x2 * (-1.0f / 6 + x2 * (1.0f / 120 + x2 * (-1.0f / 5040 + x2 * (1.0f / 362880)))));
    const F c = 1 + x2 * (-0.5f + x2 * (1.0f / 24 + x2 * (-1.0f / 720 + x2 * (1.0f / 40320))));
    const auto odd = (quarter & 1) == 1;
    const F sine = select(odd, c, s), cosine = select(odd, s, c);
    return {select((quarter & 2) == 2, -sine, sine), select(((quarter + 1) & 2) == 2, -cosine, cosine)};
}

// Arc sine, to 3e-7; -1 <= sine <= 1. Its series up to a half, beyond by the half of the angle's complement.
template <class F>
F asinOf(F sine)
{
    const F size = min(F(1), absolute(sine));
    const auto steep = size > 0.5f;
    const F t = select(steep, root((1 - size) * 0.5f), size), z = t * t;
    constexpr auto share = [](int n) {  // (2n)! / (4^n n!^2 (2n + 1))
        double product = 1;
        for (int i = 1; i <= n; ++i)
            product *= (2.0 * i - 1) / (2.0 * i);
        return static_cast<float>(product / (2 * n + 1));
    };
    constexpr float c[] = {share(1), share(2), share(3), share(4), share(5), share(6), share(7), share(8)};
    const F angle = t + t * z * (c[0] + z * (c[1] + z * (c[2] + z * (c[3] + z * (c[4] + z * (c[5] + z * (c[6] + z * c[7])))))));
    return select(sine < 0, F(-1), F(1)) * select(steep, kPiFloat / 2 - 2 * angle, angle);
}

}  // namespace base
