// Lights, and lights as surfaces to aim at: sampling, density, and what a ray that runs into one sees.
#pragma once

#include "base/frame.h"
#include "light/kind.h"
#include "light/seen.h"

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
    Place<F> evenly(F u, F v) const;
    template <class F>
    SeenRectangle<F> rectangleFrom(V3<F> point) const;
    template <class F>
    SeenDisc<F> discFrom(V3<F> point) const;

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

template <class F>
SeenRectangle<F> LightSampler::rectangleFrom(V3<F> point) const
{
    const V3<F> to = spread<F>(m_position) - point;
    return seenRectangle(dot(to, spread<F>(m_right)), dot(to, spread<F>(m_up)), dot(to, spread<F>(m_towards)), m_halfWidth, m_halfHeight);
}

template <class F>
SeenDisc<F> LightSampler::discFrom(V3<F> point) const
{
    const V3<F> to = spread<F>(m_position) - point;
    return seenDisc(dot(to, spread<F>(m_right)), dot(to, spread<F>(m_up)), dot(to, spread<F>(m_towards)), m_radius);
}

// By area.
template <class F>
Place<F> LightSampler::evenly(F u, F v) const
{
    if (!m_isRound)
        return {(2 * u - 1) * m_halfWidth, (2 * v - 1) * m_halfHeight, F(0)};
    const F r = m_radius * root(u);
    const SinCos<F> turn = sinCosOf(v);
    return {r * turn.cosine, r * turn.sine, F(0)};
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
    // By solid angle where it is large; where it is small its area is as good.
    Place<F> on = evenly(u, v);
    if (m_isRound) {
        if (const SeenDisc<F> seen = discFrom(point); any(seen.large))
            on = seen.at(u, v).where(seen.large, on);
    } else if (const SeenRectangle<F> seen = rectangleFrom(point); any(seen.large))
        on = seen.at(u, v).where(seen.large, on);
    const V3<F> d = spread<F>(m_position) + spread<F>(m_right) * on.across + spread<F>(m_up) * on.up - point;
    const F distance = root(dot(d, d));
    const V3<F> direction = d * (1 / distance);
    LightSampleOf<F> sampled = onPlane(direction, distance, -dot(direction, spread<F>(m_towards)));
    sampled.pdf = select((on.pdf > 0) & (sampled.pdf > 0), on.pdf, sampled.pdf);
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
    if (any(hit.pdf > 0)) {
        F pdf = 0;
        if (m_isRound) {
            if (const SeenDisc<F> seen = discFrom(o); any(seen.large))
                pdf = select(seen.large, seen.pdfAt(x, y), F(0));
        } else if (const SeenRectangle<F> seen = rectangleFrom(o); any(seen.large))
            pdf = select(seen.large, 1 / seen.angle, F(0));
        hit.pdf = select((pdf > 0) & (hit.pdf > 0), pdf, hit.pdf);
    }
    return hit;
}

}  // namespace light
