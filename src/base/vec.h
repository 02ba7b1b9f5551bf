// Small vectors. Plain values, no expression tricks.
#pragma once

#include <algorithm>
#include <cmath>
#include <numbers>

namespace base {

inline constexpr double kPi = std::numbers::pi;

template <class T>
struct V2 {
    T x{}, y{};

    bool operator==(const V2&) const = default;
    V2 operator+(V2 o) const { return {x + o.x, y + o.y}; }
    V2 operator-(V2 o) const { return {x - o.x, y - o.y}; }
    V2 operator*(T s) const { return {x * s, y * s}; }
    V2 operator-() const { return {-x, -y}; }
};

template <class T>
T dot(V2<T> a, V2<T> b)
{
    return a.x * b.x + a.y * b.y;
}
// z of the 3D cross product: positive when b turns left of a.
template <class T>
T cross(V2<T> a, V2<T> b)
{
    return a.x * b.y - a.y * b.x;
}
template <class T>
T length(V2<T> a)
{
    return std::hypot(a.x, a.y);
}
template <class T>
V2<T> normalized(V2<T> a)
{
    const T l = length(a);
    return l > 0 ? V2<T>{a.x / l, a.y / l} : V2<T>{};
}
template <class T>
V2<T> lerp(V2<T> a, V2<T> b, T t)
{
    return a + (b - a) * t;
}

template <class T>
struct V3 {
    T x{}, y{}, z{};

    bool operator==(const V3&) const = default;
    V3 operator+(V3 o) const { return {x + o.x, y + o.y, z + o.z}; }
    V3 operator-(V3 o) const { return {x - o.x, y - o.y, z - o.z}; }
    V3 operator*(T s) const { return {x * s, y * s, z * s}; }
    V3 operator*(V3 o) const { return {x * o.x, y * o.y, z * o.z}; }
    V3 operator/(T s) const { return *this * (T(1) / s); }
    V3 operator-() const { return {-x, -y, -z}; }
    V3& operator+=(V3 o) { return *this = *this + o; }
    V3& operator*=(V3 o) { return *this = *this * o; }
    V3& operator*=(T s) { return *this = *this * s; }
    T operator[](int i) const { return i == 0 ? x : i == 1 ? y : z; }
};

template <class T>
T dot(V3<T> a, V3<T> b)
{
    return a.x * b.x + a.y * b.y + a.z * b.z;
}
template <class T>
V3<T> cross(V3<T> a, V3<T> b)
{
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
template <class T>
T length(V3<T> a)
{
    return std::sqrt(dot(a, a));
}
template <class T>
V3<T> normalized(V3<T> a)
{
    const T l = length(a);
    return l > 0 ? a / l : V3<T>{};
}
template <class T>
V3<T> lerp(V3<T> a, V3<T> b, T t)
{
    return a + (b - a) * t;
}
template <class T>
T largest(V3<T> a)
{
    return std::max(a.x, std::max(a.y, a.z));
}

using Vec2 = V2<double>;
using Vec3 = V3<double>;
using Vec3f = V3<float>;
using Rgb = V3<float>;  // scene-linear, sRGB primaries

inline Vec3f toFloat(Vec3 v)
{
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}
inline Vec3 toDouble(Vec3f v)
{
    return {v.x, v.y, v.z};
}
inline float luminance(Rgb c)  // Rec. ITU-R BT.709 weights, the sRGB primaries
{
    return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z;
}

struct Box2 {
    Vec2 low{1e300, 1e300}, high{-1e300, -1e300};

    bool operator==(const Box2&) const = default;
    bool empty() const { return low.x > high.x; }
    Vec2 centre() const { return (low + high) * 0.5; }
    void add(Vec2 p)
    {
        low = {std::min(low.x, p.x), std::min(low.y, p.y)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    void add(const Box2& b)
    {
        if (!b.empty()) {
            add(b.low);
            add(b.high);
        }
    }
};

struct Box3 {
    Vec3 low{1e300, 1e300, 1e300}, high{-1e300, -1e300, -1e300};

    bool operator==(const Box3&) const = default;
    bool empty() const { return low.x > high.x; }
    void add(Vec3 p)
    {
        low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
    }
    void add(const Box3& b)
    {
        if (!b.empty()) {
            add(b.low);
            add(b.high);
        }
    }
    Vec3 centre() const { return (low + high) * 0.5; }
    Vec3 size() const { return high - low; }
};

// A rigid motion: rotate, then move.
struct Pose {
    Vec3 right{1, 0, 0}, up{0, 1, 0}, out{0, 0, 1};  // images of the axes
    Vec3 origin{};

    bool operator==(const Pose&) const = default;
    Vec3 turn(Vec3 v) const { return right * v.x + up * v.y + out * v.z; }
    Vec3 apply(Vec3 p) const { return turn(p) + origin; }
};

}  // namespace base
