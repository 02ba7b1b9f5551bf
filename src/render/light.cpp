#include "render/light.h"

#include <cmath>

#include "render/frame.h"

namespace render {

namespace {

Vec3f inCone(Vec3f axis, float oneMinusCosine, float u, float v)
{
    const float z = 1 - u * oneMinusCosine;
    const float r = std::sqrt(std::max(0.0f, (1 - z) * (1 + z))), phi = 2 * kPi * v;
    return normalized(Frame(axis).toWorld({r * std::cos(phi), r * std::sin(phi), z}));
}

float oneMinusCosineOf(float sine)
{
    return sine >= 1 ? 1 : sine * sine / (1 + std::sqrt(1 - sine * sine));
}

}  // namespace

double radianceAtBrightness1(const Light& l)
{
    // The card's radiance is E / pi, so E = pi = integral of L cos over the light.
    switch (l.kind) {
    case LightKind::Softbox: {
        // A rectangle square to its axis, four times the corner rectangle's configuration factor (Howell, A Catalog of
        // Radiation Heat Transfer Configuration Factors: differential element to parallel rectangle).
        const double a = l.halfWidth / l.aimDistance, b = l.halfHeight / l.aimDistance;
        const double p = std::sqrt(1 + a * a), q = std::sqrt(1 + b * b);
        const double corner = (a / p * std::atan(b / p) + b / q * std::atan(a / q)) / (2 * base::kPi);
        return 1 / (4 * corner);
    }
    case LightKind::Sun: {
        const double s = std::sin(l.radius);
        return 1 / (s * s);
    }
    case LightKind::Bulb: {
        const double s = l.radius / l.aimDistance;
        return 1 / (s * s);
    }
    case LightKind::Spot: {
        const double s = l.radius / l.aimDistance;
        return (1 + s * s) / (s * s);  // disc: E = pi L s^2 / (1 + s^2)
    }
    }
    return 0;
}

LightSampler::LightSampler(const Light& l)
    : m_kind(l.kind), m_position(toFloat(l.position)), m_towards(toFloat(l.towardsAim)), m_right(toFloat(l.right)),
      m_up(toFloat(l.up)), m_halfWidth(static_cast<float>(l.halfWidth)), m_halfHeight(static_cast<float>(l.halfHeight)),
      m_radius(static_cast<float>(l.radius)), m_radiance(static_cast<float>(radianceAtBrightness1(l))),
      m_coneCosine(static_cast<float>(l.coneCosine)), m_innerCosine(static_cast<float>(l.innerCosine))
{
    if (m_kind == LightKind::Sun)
        m_sunCosine = oneMinusCosineOf(std::sin(m_radius));
    if (m_kind == LightKind::Spot) {
        const Frame frame(m_towards);
        m_right = frame.t;
        m_up = frame.b;
    }
}

float LightSampler::spotFactor(Vec3f direction) const  // direction: from the point to the light
{
    const float cosine = -dot(direction, m_towards);
    const float t = std::clamp((cosine - m_coneCosine) / std::max(1e-6f, m_innerCosine - m_coneCosine), 0.0f, 1.0f);
    return t * t * (3 - 2 * t);
}

LightSample LightSampler::sample(Vec3f point, float u, float v) const
{
    switch (m_kind) {
    case LightKind::Sun:
        return {inCone(-m_towards, m_sunCosine, u, v), kInfinity, m_radiance, 1 / (2 * kPi * m_sunCosine)};
    case LightKind::Bulb: {
        const Vec3f d = m_position - point;
        const float distance2 = dot(d, d);
        if (distance2 <= m_radius * m_radius)
            return {};
        const float distance = std::sqrt(distance2);
        const float cone = oneMinusCosineOf(m_radius / distance);
        const Vec3f direction = inCone(d / distance, cone, u, v);
        // A shadow ray to the tangent plane's depth is near enough: nothing stands inside a bulb.
        return {direction, distance - m_radius, m_radiance, 1 / (2 * kPi * cone)};
    }
    default: {
        Vec3f on;
        float area;
        if (m_kind == LightKind::Softbox) {
            on = m_position + m_right * ((2 * u - 1) * m_halfWidth) + m_up * ((2 * v - 1) * m_halfHeight);
            area = 4 * m_halfWidth * m_halfHeight;
        } else {
            const float r = m_radius * std::sqrt(u), phi = 2 * kPi * v;
            on = m_position + m_right * (r * std::cos(phi)) + m_up * (r * std::sin(phi));
            area = kPi * m_radius * m_radius;
        }
        const Vec3f d = on - point;
        const float distance = length(d);
        const Vec3f direction = d / distance;
        const float cosine = -dot(direction, m_towards);
        if (!(cosine > 1e-5f))
            return {};
        const float factor = m_kind == LightKind::Spot ? spotFactor(direction) : 1;
        return {direction, distance, m_radiance * factor, distance * distance / (cosine * area)};
    }
    }
}

LightSample LightSampler::hit(Vec3f o, Vec3f d, float farthest) const
{
    switch (m_kind) {
    case LightKind::Sun:
        // 1 - cos of the angle between them, without cancellation: half the squared chord.
        if (const Vec3f chord = d + m_towards; farthest == kInfinity && dot(chord, chord) / 2 < m_sunCosine)
            return {d, kInfinity, m_radiance, 1 / (2 * kPi * m_sunCosine)};
        return {};
    case LightKind::Bulb: {
        const Vec3f to = m_position - o;
        const float b = dot(to, d);
        const Vec3f off = to - d * b;
        const float inside = m_radius * m_radius - dot(off, off);
        const float distance2 = dot(to, to);
        if (b <= 0 || inside <= 0 || distance2 <= m_radius * m_radius)
            return {};
        const float t = b - std::sqrt(inside);
        if (t >= farthest)
            return {};
        return {d, t, m_radiance, 1 / (2 * kPi * oneMinusCosineOf(m_radius / std::sqrt(distance2)))};
    }
    default: {
        const float cosine = -dot(d, m_towards);
        if (!(cosine > 1e-5f))
            return {};
        const float t = dot(m_position - o, m_towards) / dot(d, m_towards);
        if (t <= 0 || t >= farthest)
            return {};
        const Vec3f off = o + d * t - m_position;
        const float x = dot(off, m_right), y = dot(off, m_up);
        float area;
        if (m_kind == LightKind::Softbox) {
            if (std::abs(x) > m_halfWidth || std::abs(y) > m_halfHeight)
                return {};
            area = 4 * m_halfWidth * m_halfHeight;
        } else {
            if (x * x + y * y > m_radius * m_radius)
                return {};
            area = kPi * m_radius * m_radius;
        }
        const float factor = m_kind == LightKind::Spot ? spotFactor(d) : 1;
        return {d, t, m_radiance * factor, t * t / (cosine * area)};
    }
    }
}

}  // namespace render
