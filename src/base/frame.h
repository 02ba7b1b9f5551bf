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
    V3<F> toLocal(V3<F> v) const { return {dot(v, t), dot(v, b), dot(v, n)}; }
    V3<F> toWorld(V3<F> v) const { return t * v.x + b * v.y + n * v.z; }
};

}  // namespace base
