// Flat lights as they are seen from a point, and places on them chosen by the solid angle: without it the near and the oblique parts
// of a lamp are chosen too rarely, which is noise. For one point and for lanes of them.
#pragma once

#include <array>
#include <utility>

#include "base/frame.h"

namespace light {

using namespace base;

constexpr float kSmallAngle = 0.02f;  // steradians; below it area is as good as solid angle, and floats are not

// On a light, from its middle: pt along its right and up. The density is per steradian; 0: by area.
template <class F>
struct Place {
    F across, up, pdf;

    template <class Condition>
    Place where(Condition here, const Place& otherwise) const
    {
        return {select(here, across, otherwise.across), select(here, up, otherwise.up), select(here, pdf, otherwise.pdf)};
    }
};

// The spherical rectangle of C. Ureña, M. Fajardo and A. King, An area-preserving parametrization for spherical rectangles, 2013.
template <class F>
struct SeenRectangle {
    F x0, x1, y0, y1, z;  // its corners; z < 0
    F top, low, begin;    // z of the normals of its lower and upper side's planes; angle its left side begins at
    F angle;              // steradians
    decltype(F() > F()) large;

    Place<F> at(F u, F v) const
    {
        const SinCos<F> turn = sinCosOf(clamped((begin + u * angle) * (0.5f / kPiFloat), F(0), F(1)));
        const F f = (turn.cosine * low - top) / select(absolute(turn.sine) > 1e-6f, turn.sine, F(1e-6f));
        const F c = clamped(select(f < 0, F(-1), F(1)) / root(f * f + low * low), F(-0.99999f), F(0.99999f));
        const F x = clamped(-(c * z) / root(1 - c * c), x0, x1);
        const F d2 = x * x + z * z;
        const F h0 = y0 / root(d2 + y0 * y0), h1 = y1 / root(d2 + y1 * y1), h = h0 + v * (h1 - h0);
        const F y = clamped(h * root(d2 / max(F(1e-7f), 1 - h * h)), y0, y1);
        return {x - (x0 + x1) * 0.5f, y - (y0 + y1) * 0.5f, 1 / angle};
    }
};

// Its middle lies at across, up, ahead from the point, pt.
template <class F>
SeenRectangle<F> seenRectangle(F across, F up, F ahead, float halfWidth, float halfHeight)
{
    SeenRectangle<F> s{across - halfWidth, across + halfWidth, up - halfHeight, up + halfHeight, -absolute(ahead), {}, {}, {}, {}, {}};
    const F z2 = max(s.z * s.z, F(1e-12f));
    const F n0 = -s.y0 / root(z2 + s.y0 * s.y0), n1 = s.x1 / root(z2 + s.x1 * s.x1), n2 = s.y1 / root(z2 + s.y1 * s.y1),
            n3 = -s.x0 / root(z2 + s.x0 * s.x0);
    // Its inner angles less a right one each: their sum is the solid angle, without cancellation.
    const F g0 = asinOf(n0 * n1), g1 = asinOf(n1 * n2), g2 = asinOf(n2 * n3), g3 = asinOf(n3 * n0);
    s.low = n0;
    s.top = n2;
    s.begin = kPiFloat - g2 - g3;
    s.angle = g0 + g1 + g2 + g3;
    s.large = s.angle > kSmallAngle;
    return s;
}

// A disc is seen as a spherical ellipse: a cone whose section one unit along its axis has the half axes a and b (its axis halves the
// angle between the nearest and the farthest point of the disc). With A2 = 1 + a2, B2 = 1 + b2 and the angle p by which
// tan t = A/B tan p gives the ellipse's own t, the solid angle within p is ab/(AB) times the integral of s/(1 + s), where
// s2 = A2 B2 / (B2 cos2 p + A2 sin2 p): a function between 1/2 and 1 however long the ellipse is. So straight pieces of it choose p,
// and the part along the radius inverts in closed form: even by solid angle within a hundredth, with the exact density beside it.
// I. Guillén et al., Area-preserving parameterizations for spherical ellipses, 2017, has the cone; the rest is worked out here.
template <class F>
struct SeenDisc {
    static constexpr int kPieces = 4;  // of a quarter

    F alongX, alongY;        // unit, on the disc: from the point's foot to its middle
    F middle, height;        // of the disc from the foot, pt
    F axisAlong, axisAhead;  // unit: the cone's axis
    F a, b, A, B;
    std::array<F, kPieces + 1> f;  // s/(1 + s) at the ends of the pieces
    F angle;                       // steradians
    decltype(F() > F()) large;

    F sAt(F cosine, F sine) const { return A * B / root(B * B * cosine * cosine + A * A * sine * sine); }
    // Per steradian, where the pieces give `chosen` for what is s/(1 + s).
    F pdf(F chosen, F s) const { return chosen * (1 + s) / (s * angle); }

    Place<F> at(F u, F v) const
    {
        // The quarters follow one another forwards and backwards, so that neighbours in v stay neighbours.
        const F w = 4 * v;
        const auto left = (w >= 1) & (w < 3), below = w >= 2;
        F rest = select(w >= 3, 4 - w, select(w >= 2, w - 2, select(w >= 1, 2 - w, w)));
        rest *= sum();
        F piece = 0, f0 = f[0], f1 = f[1];
        for (int i = 1; i < kPieces; ++i) {
            const F whole = (f0 + f1) * 0.5f;
            const auto on = (rest > whole) & (piece >= float(i - 1));
            rest = select(on, rest - whole, rest);
            piece = select(on, F(float(i)), piece);
            f0 = select(on, f[std::size_t(i)], f0);
            f1 = select(on, f[std::size_t(i) + 1], f1);
        }
        const F x = clamped(2 * rest / (f0 + root(max(F(0), f0 * f0 + 2 * (f1 - f0) * rest))), F(0), F(1));
        const SinCos<F> p = sinCosOf((piece + x) * (0.25f / kPieces));
        const F s = sAt(p.cosine, p.sine);
        // u is the share of the solid angle from the axis outwards: 1 - 1/sqrt(1 + k r2) = u (1 - 1/s), k = s2 - 1.
        const F q = 1 - u * (s - 1) / s, r = root(u * (1 + q) / (s * (s + 1))) / q;
        const F cosine = p.cosine * s / A, sine = p.sine * s / B;  // of t
        return fromAxis(select(left, -r, r) * a * cosine, select(below, -r, r) * b * sine, pdf(f0 + (f1 - f0) * x, s));
    }

    // Of the place at x, y from the disc's middle along its right and up.
    F pdfAt(F x, F y) const
    {
        const F along = middle + x * alongX + y * alongY, aside = y * alongX - x * alongY;
        const F far = along * axisAlong + height * axisAhead;
        F cosine = absolute((along * axisAhead - height * axisAlong) / (far * a * B)), sine = absolute(aside / (far * b * A));
        const F length = root(cosine * cosine + sine * sine), per = select(length > 0, 1 / length, F(0));
        sine *= per;
        cosine = select(length > 0, cosine * per, F(1));
        F left = clamped(asinOf(clamped(sine, F(0), F(1))) * (2 * kPieces / kPiFloat), F(0), F(float(kPieces))), chosen = f[0];
        for (int i = 0; i < kPieces; ++i)
            chosen += (f[std::size_t(i) + 1] - f[std::size_t(i)]) * clamped(left - float(i), F(0), F(1));
        return pdf(chosen, sAt(cosine, sine));
    }

    // Of a quarter, in pieces.
    F sum() const
    {
        F all = (f[0] + f[kPieces]) * 0.5f;
        for (std::size_t i = 1; i < kPieces; ++i)
            all += f[i];
        return all;
    }

private:
    // A place of the section one unit along the axis, on the disc.
    Place<F> fromAxis(F x, F y, F density) const
    {
        const F t = height / (axisAhead - x * axisAlong);
        const F along = (axisAlong + x * axisAhead) * t - middle, aside = y * t;
        return {along * alongX - aside * alongY, along * alongY + aside * alongX, density};
    }
};

// Its middle lies at across, up, ahead from the point, pt.
template <class F>
SeenDisc<F> seenDisc(F across, F up, F ahead, float radius)
{
    SeenDisc<F> s{};
    s.middle = root(across * across + up * up);
    const F per = select(s.middle > 1e-6f * radius, 1 / s.middle, F(0));
    s.alongX = select(per > 0, across * per, F(1));
    s.alongY = up * per;
    s.height = max(absolute(ahead), F(1e-4f * radius));
    const F near = s.middle - radius, far = s.middle + radius;
    const F perNear = 1 / root(near * near + s.height * s.height), perFar = 1 / root(far * far + s.height * s.height);
    const F along = near * perNear + far * perFar, ahead2 = s.height * (perNear + perFar), length = root(along * along + ahead2 * ahead2);
    s.axisAlong = along / length;
    s.axisAhead = ahead2 / length;
    const F apartAlong = far * perFar - near * perNear, apartAhead = s.height * (perFar - perNear);
    s.a = root(apartAlong * apartAlong + apartAhead * apartAhead) / length;
    const F axis = s.height / s.axisAhead, off = s.axisAlong * axis - s.middle;
    s.b = root(max(F(0), radius * radius - off * off)) / axis;
    s.A = root(1 + s.a * s.a);
    s.B = root(1 + s.b * s.b);
    constexpr std::array<float, 3> kCosine2{0.853553391f, 0.5f, 0.146446609f};  // of a quarter, a half and three quarters of a right angle
    s.f[0] = s.A / (1 + s.A);
    s.f[SeenDisc<F>::kPieces] = s.B / (1 + s.B);
    for (std::size_t i = 0; i < kCosine2.size(); ++i) {
        const F at = s.A * s.B / root(s.B * s.B * kCosine2[i] + s.A * s.A * (1 - kCosine2[i]));
        s.f[i + 1] = at / (1 + at);
    }
    // Four quarters of pieces a sixteenth of half a turn long.
    s.angle = s.a * s.b / (s.A * s.B) * s.sum() * (2 * kPiFloat / SeenDisc<F>::kPieces);
    s.large = s.angle > kSmallAngle;
    return s;
}

}  // namespace light
