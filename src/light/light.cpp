#include "light/light.h"

#include <cmath>

namespace light {

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
    : m_kind(l.kind),
      m_position(toFloat(l.position)),
      m_towards(toFloat(l.towardsAim)),
      m_right(toFloat(l.right)),
      m_up(toFloat(l.up)),
      m_halfWidth(static_cast<float>(l.halfWidth)),
      m_halfHeight(static_cast<float>(l.halfHeight)),
      m_radius(static_cast<float>(l.radius)),
      m_radiance(static_cast<float>(radianceAtBrightness1(l))),
      m_coneCosine(static_cast<float>(l.coneCosine)),
      m_innerCosine(static_cast<float>(l.innerCosine))
{
    if (m_kind == LightKind::Sun)
        m_sunCosine = oneMinusCosineOf(std::sin(m_radius));
    if (m_kind == LightKind::Softbox)
        m_area = 4 * m_halfWidth * m_halfHeight;
    if (m_kind == LightKind::Spot) {
        const FrameOf<float> frame(m_towards);
        m_right = frame.t;
        m_up = frame.b;
        m_area = kPiFloat * m_radius * m_radius;
    }
}

}  // namespace light
