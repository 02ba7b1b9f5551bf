// Numbers and axes that the whole of light transport shares.
#pragma once

#include <cmath>
#include <limits>

#include "base/vec.h"

namespace render {

using base::Vec3f;

inline constexpr float kPi = 3.14159265f;
inline constexpr float kInfinity = std::numeric_limits<float>::infinity();

// A right-handed frame round a unit normal (T. Duff and others, Building an Orthonormal Basis, Revisited, JCGT 2017).
struct Frame {
    Vec3f t, b, n;

    explicit Frame(Vec3f normal) : n(normal)
    {
        const float sign = std::copysign(1.0f, n.z);
        const float a = -1 / (sign + n.z), c = n.x * n.y * a;
        t = {1 + sign * n.x * n.x * a, sign * c, -sign * n.x};
        b = {c, sign + n.y * n.y * a, -n.y};
    }
    Vec3f toLocal(Vec3f v) const { return {dot(v, t), dot(v, b), dot(v, n)}; }
    Vec3f toWorld(Vec3f v) const { return t * v.x + b * v.y + n * v.z; }
};

}  // namespace render
