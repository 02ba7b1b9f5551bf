#include "light/light.h"

#include <algorithm>
#include <cmath>

namespace light {

namespace {

bool isRound(const Light& l)
{
    return l.kind == LightKind::Spot || (l.kind == LightKind::Softbox && l.form == SoftboxForm::Disc);
}

double radiusOf(const Light& l)
{
    return l.kind == LightKind::Softbox ? l.halfWidth : l.radius;
}

// Of a flat light whose radiance differs with direction or distance: E at the aim for radiance 1, summed over its area.
double irradianceAtAim(const Light& l)
{
    constexpr int kSteps = 256;
    const double a = isRound(l) ? radiusOf(l) : l.halfWidth, b = isRound(l) ? radiusOf(l) : l.halfHeight, d = l.aimDistance;
    const double perGrid = l.gridAngle > 0 ? 1 / std::tan(l.gridAngle) : 0;
    double sum = 0;
    for (int i = 0; i < kSteps; ++i)
        for (int k = 0; k < kSteps; ++k) {
            const double x = (2 * (i + 0.5) / kSteps - 1) * a, y = (2 * (k + 0.5) / kSteps - 1) * b, far2 = x * x + y * y + d * d;
            if (isRound(l) && x * x + y * y > a * a)
                continue;
            const double grid = std::max(0.0, 1 - std::abs(x) / d * perGrid) * std::max(0.0, 1 - std::abs(y) / d * perGrid);
            sum += d * d / (far2 * far2) * grid * (l.falls ? 1 : far2 / (d * d));
        }
    return sum * 4 * a * b / (kSteps * kSteps);
}

}  // namespace

double radianceAtBrightness1(const Light& l)
{
    // The card's radiance is E / pi, so E = pi = integral of L cos over the light.
    const bool flat = l.kind == LightKind::Softbox || l.kind == LightKind::Spot;
    if (flat && (!l.falls || (l.kind == LightKind::Softbox && l.gridAngle > 0)))
        return base::kPi / irradianceAtAim(l);
    switch (l.kind) {
    case LightKind::Softbox: {
        if (isRound(l))
            break;
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
    case LightKind::Spot:
        break;
    }
    const double s = radiusOf(l) / l.aimDistance;
    return (1 + s * s) / (s * s);  // disc: E = pi L s^2 / (1 + s^2)
}

LightSampler::LightSampler(const Light& l)
    : m_kind(l.kind),
      m_isRound(isRound(l)),
      m_falls(l.falls),
      m_position(toFloat(l.position)),
      m_towards(toFloat(l.towardsAim)),
      m_right(toFloat(l.right)),
      m_up(toFloat(l.up)),
      m_halfWidth(static_cast<float>(l.halfWidth)),
      m_halfHeight(static_cast<float>(l.halfHeight)),
      m_radius(static_cast<float>(radiusOf(l))),
      m_radiance(static_cast<float>(radianceAtBrightness1(l))),
      m_coneCosine(static_cast<float>(l.coneCosine)),
      m_innerCosine(static_cast<float>(l.innerCosine)),
      m_perAim2(static_cast<float>(1 / (l.aimDistance * l.aimDistance)))
{
    if (m_kind == LightKind::Sun)
        m_sunCosine = oneMinusCosineOf(std::sin(m_radius));
    if (m_kind == LightKind::Softbox) {
        m_area = 4 * m_halfWidth * m_halfHeight;
        if (l.gridAngle > 0)
            m_perGrid = static_cast<float>(1 / std::tan(l.gridAngle));
    }
    if (m_kind == LightKind::Spot) {
        const FrameOf<float> frame(m_towards);
        m_right = frame.t;
        m_up = frame.b;
    }
    if (m_isRound)
        m_area = kPiFloat * m_radius * m_radius;
}

}  // namespace light
