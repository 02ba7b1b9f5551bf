// Axes round a normal.
#pragma once

#include "base/lanes.h"

namespace base {

// A right-handed frame round a unit normal (T. Duff and others, Building an Orthonormal Basis, Revisited, JCGT 2017).
template <class F>
struct FrameOf {
    V3<F> t, b, n;

    explicit FrameOf(V3<F> normal) : n(normal)
    {
        const F sign = signOf(n.z);
        const F a = -1.0f / (sign + n.z), c = n.x * n.y * a;
        t = {1 + sign * n.x * n.x * a, sign * c, -sign * n.x};
        b = {c, sign + n.y * n.y * a, -n.y};
    }
    // The same with t along a direction, as far as it is square to the normal; anywhere where it is not at all.
    FrameOf(V3<F> normal, V3<F> along) : FrameOf(normal)
    {
        const V3<F> level = along - normal * dot(along, normal);
        const F size2 = dot(level, level);
        t = select(size2 > 0, level * (1 / root(max(F(1e-30f), size2))), t);
        b = cross(normal, t);
    }
    V3<F> toLocal(V3<F> v) const { return {dot(v, t), dot(v, b), dot(v, n)}; }
    V3<F> toWorld(V3<F> v) const { return t * v.x + b * v.y + n * v.z; }
};

}  // namespace base
