// Lights, and lights as surfaces to aim at: sampling, density, and what a ray that runs into one sees.
#pragma once

#include "base/frame.h"
#include "light/kind.h"

namespace light {

using namespace base;  // lanes are arithmetic, and used like it

// A light of brightness 1: a white card at the aim, square to the light, sends back radiance 1. Lights are seen in
// reflections, not by the camera, and cast no shadow themselves.
struct Light {
    LightKind kind = LightKind::Softbox;
    Vec3 position;                              // centre; unused for a sun
    Vec3 towardsAim{0, 0, -1};                  // unit: the way the light goes
    Vec3 right{1, 0, 0}, up{0, 1, 0};           // unit, in the plane of a softbox
    double halfWidth = 50, halfHeight = 50;     // softbox
    double radius = 10;                         // bulb, spot: pt; sun: angular radius in radians
    double aimDistance = 500;                   // pt
    double coneCosine = 0, innerCosine = 0;     // spot: dark outside the cone, full inside the inner one
    float deskLuminance = 1;                    // how much it will count in the picture; steers sampling only
    SoftboxForm form = SoftboxForm::Rectangle;  // a disc has the diameter 2 halfWidth
    // Softbox: angle from straight ahead, radians, beyond which its grid lets nothing through; 0: without a grid. What a cell shows of the
    // light falls as 1 - tan(angle) / tan(gridAngle), across and up.
    double gridAngle = 0;
    bool falls = true;  // with the square of the distance, as light does; else each point gets what it would at the aim's distance
};

template <class F>
struct LightSampleOf {
    V3<F> direction;  // unit, from the point to the light
    F distance = 0;   // to the light's surface; infinite for a sun
    F radiance = 0;   // of the light at brightness 1 towards the point
    F pdf = 0;        // per steradian; 0 when the point gets nothing
};
using LightSample = LightSampleOf<float>;

// Radiance that makes a white card at the aim, square to the light, send back 1.
double radianceAtBrightness1(const Light& light);

// A light prepared for sampling.
class LightSampler {
public:
    explicit LightSampler(const Light& light);

    template <class F>
    LightSampleOf<F> sample(V3<F> point, F u, F v) const;
    // What a ray sees of the light within `farthest`: radiance and the density with which sample() would have chosen it.
    // pdf 0 when it misses.
    template <class F>
    LightSampleOf<F> hit(V3<F> origin, V3<F> direction, F farthest) const;

private:
    template <class F>
    F spotFactor(V3<F> direction) const;
    template <class F>
    F gridFactor(V3<F> direction) const;
    template <class F>
    F distanceFactor(F distance) const;
    template <class F>
    LightSampleOf<F> onPlane(V3<F> direction, F distance, F cosine) const;
    template <class F>
    struct Seen;
    template <class F>
    Seen<F> seenFrom(V3<F> point) const;

    LightKind m_kind;
    bool m_isRound, m_falls;
    Vec3f m_position, m_towards, m_right, m_up;
    float m_halfWidth, m_halfHeight, m_radius, m_radiance;
    float m_coneCosine, m_innerCosine;
    float m_sunCosine = 1;  // 1 minus that of the angular radius
    float m_area = 0;       // pt2, softbox and spot
    float m_perGrid = 0;    // 1 / tangent of its angle
    float m_perAim2;        // 1 / the square of the aim's distance
};

template <class F>
F oneMinusCosineOf(F sine)
{
    return select(sine < 1, sine * sine / (1 + root(max(F(0), 1 - sine * sine))), F(1));
}

template <class F>
V3<F> inCone(V3<F> axis, F oneMinusCosine, F u, F v)
{
    const F z = 1 - u * oneMinusCosine, r = root(max(F(0), (1 - z) * (1 + z)));
    const SinCos<F> turn = sinCosOf(v);
    return normalized(FrameOf<F>(axis).toWorld({r * turn.cosine, r * turn.sine, z}));
}

template <class F>
F LightSampler::spotFactor(V3<F> direction) const  // direction: from the point to the light
{
    const F cosine = -dot(direction, spread<F>(m_towards));
    const F t = clamped((cosine - m_coneCosine) * (1 / std::max(1e-6f, m_innerCosine - m_coneCosine)), F(0), F(1));
    return t * t * (3 - 2 * t);
}

template <class F>
F LightSampler::gridFactor(V3<F> direction) const
{
    const F per = m_perGrid / max(absolute(dot(direction, spread<F>(m_towards))), F(1e-6f));
    const auto shown = [&](const Vec3f& axis) { return max(F(0), 1 - absolute(dot(direction, spread<F>(axis))) * per); };
    return shown(m_right) * shown(m_up);
}

template <class F>
F LightSampler::distanceFactor(F distance) const
{
    return distance * distance * m_perAim2;
}

// Of a softbox or spot, seen from its front.
template <class F>
LightSampleOf<F> LightSampler::onPlane(V3<F> direction, F distance, F cosine) const
{
    F radiance = m_radiance;
    if (m_kind == LightKind::Spot)
        radiance *= spotFactor(direction);
    if (m_perGrid > 0)
        radiance *= gridFactor(direction);
    if (!m_falls)
        radiance *= distanceFactor(distance);
    return {direction, distance, radiance, select(cosine > 1e-5f, distance * distance / (cosine * m_area), F(0))};
}

// A rectangle as it is seen from a point: the spherical rectangle of C. Ureña, M. Fajardo and A. King, An area-preserving
// parametrization for spherical rectangles, 2013. Where it is small its area is as good, and floats are not: `large` says which counts.
template <class F>
struct LightSampler::Seen {
    F x0, x1, y0, y1, z;  // its corners; z < 0
    F top, low, begin;    // z of the normals of its lower and upper side's planes; angle its left side begins at
    F angle;              // steradians
    decltype(F() > F()) large;

    // A place on it, from its lower left corner's in its plane, for u and v.
    std::pair<F, F> at(F u, F v) const
    {
        const SinCos<F> turn = sinCosOf(clamped((begin + u * angle) * (0.5f / kPiFloat), F(0), F(1)));
        const F f = (turn.cosine * low - top) / select(absolute(turn.sine) > 1e-6f, turn.sine, F(1e-6f));
        const F c = clamped(select(f < 0, F(-1), F(1)) / root(f * f + low * low), F(-0.99999f), F(0.99999f));
        const F x = clamped(-(c * z) / root(1 - c * c), x0, x1);
        const F d2 = x * x + z * z;
        const F h0 = y0 / root(d2 + y0 * y0), h1 = y1 / root(d2 + y1 * y1), h = h0 + v * (h1 - h0);
        return {x, clamped(h * root(d2 / max(F(1e-7f), 1 - h * h)), y0, y1)};
    }
};

template <class F>
LightSampler::Seen<F> LightSampler::seenFrom(V3<F> point) const
{
    constexpr float kSmall = 0.02f;  // steradians
    const V3<F> to = spread<F>(m_position) - point;
    const F x = dot(to, spread<F>(m_right)), y = dot(to, spread<F>(m_up)), z = -absolute(dot(to, spread<F>(m_towards)));
    Seen<F> s{x - m_halfWidth, x + m_halfWidth, y - m_halfHeight, y + m_halfHeight, z, {}, {}, {}, {}, {}};
    const F z2 = max(z * z, F(1e-12f));
    const F n0 = -s.y0 / root(z2 + s.y0 * s.y0), n1 = s.x1 / root(z2 + s.x1 * s.x1), n2 = s.y1 / root(z2 + s.y1 * s.y1),
            n3 = -s.x0 / root(z2 + s.x0 * s.x0);
    // Its inner angles less a right one each: their sum is the solid angle, without cancellation.
    const F g0 = asinOf(n0 * n1), g1 = asinOf(n1 * n2), g2 = asinOf(n2 * n3), g3 = asinOf(n3 * n0);
    s.low = n0;
    s.top = n2;
    s.begin = kPiFloat - g2 - g3;
    s.angle = g0 + g1 + g2 + g3;
    s.large = s.angle > kSmall;
    return s;
}

template <class F>
LightSampleOf<F> LightSampler::sample(V3<F> point, F u, F v) const
{
    if (m_kind == LightKind::Sun)
        return {inCone(spread<F>(-m_towards), F(m_sunCosine), u, v), F(kInfinity), F(m_radiance), F(1 / (2 * kPiFloat * m_sunCosine))};
    if (m_kind == LightKind::Bulb) {
        const V3<F> d = spread<F>(m_position) - point;
        const F distance = root(dot(d, d)), cone = oneMinusCosineOf(m_radius / distance);
        // A shadow ray to the tangent plane's depth is near enough: nothing stands inside a bulb.
        return {inCone(d * (1 / distance), cone, u, v), distance - m_radius,
                m_falls ? F(m_radiance) : m_radiance * distanceFactor(distance),
                select(distance > m_radius, 1 / (2 * kPiFloat * cone), F(0))};
    }
    F x, y, angle = 0;
    decltype(angle > angle) large{};
    if (!m_isRound) {
        x = (2 * u - 1) * m_halfWidth;
        y = (2 * v - 1) * m_halfHeight;
        const Seen<F> seen = seenFrom(point);
        large = seen.large;
        angle = seen.angle;
        if (any(large)) {
            const auto [across, up] = seen.at(u, v);
            x = select(large, across - seen.x0 - m_halfWidth, x);
            y = select(large, up - seen.y0 - m_halfHeight, y);
        }
    } else {
        const F r = m_radius * root(u);
        const SinCos<F> turn = sinCosOf(v);
        x = r * turn.cosine;
        y = r * turn.sine;
    }
    const V3<F> d = spread<F>(m_position) + spread<F>(m_right) * x + spread<F>(m_up) * y - point;
    const F distance = root(dot(d, d));
    const V3<F> direction = d * (1 / distance);
    LightSampleOf<F> sampled = onPlane(direction, distance, -dot(direction, spread<F>(m_towards)));
    sampled.pdf = select(large & (sampled.pdf > 0), 1 / angle, sampled.pdf);
    return sampled;
}

template <class F>
LightSampleOf<F> LightSampler::hit(V3<F> o, V3<F> d, F farthest) const
{
    if (m_kind == LightKind::Sun) {
        // 1 - cos of the angle between them, without cancellation: half the squared chord.
        const V3<F> chord = d + spread<F>(m_towards);
        const auto met = (farthest >= kInfinity) & (dot(chord, chord) * 0.5f < m_sunCosine);
        return {d, F(kInfinity), F(m_radiance), select(met, F(1 / (2 * kPiFloat * m_sunCosine)), F(0))};
    }
    if (m_kind == LightKind::Bulb) {
        const V3<F> to = spread<F>(m_position) - o;
        const F b = dot(to, d), distance2 = dot(to, to);
        const V3<F> off = to - d * b;
        const F inside = m_radius * m_radius - dot(off, off), t = b - root(max(F(0), inside));
        const auto met = (b > 0) & (inside > 0) & (distance2 > m_radius * m_radius) & (t < farthest);
        return {d, t, m_falls ? F(m_radiance) : m_radiance * distanceFactor(root(distance2)),
                select(met, 1 / (2 * kPiFloat * oneMinusCosineOf(m_radius / root(distance2))), F(0))};
    }
    const F along = dot(d, spread<F>(m_towards));
    const F t = dot(spread<F>(m_position) - o, spread<F>(m_towards)) / along;
    const V3<F> off = o + d * t - spread<F>(m_position);
    const F x = dot(off, spread<F>(m_right)), y = dot(off, spread<F>(m_up));
    const auto before = (t > 0) & (t < farthest);
    const auto met =
        m_isRound ? before & (x * x + y * y <= m_radius * m_radius) : before & (absolute(x) <= m_halfWidth) & (absolute(y) <= m_halfHeight);
    LightSampleOf<F> hit = onPlane(d, t, -along);
    hit.pdf = select(met, hit.pdf, F(0));
    if (!m_isRound && any(hit.pdf > 0)) {
        const Seen<F> seen = seenFrom(o);
        hit.pdf = select(seen.large & (hit.pdf > 0), 1 / seen.angle, hit.pdf);
    }
    return hit;
}

}  // namespace light
