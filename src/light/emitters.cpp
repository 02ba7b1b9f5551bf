#include "light/emitters.h"

#include <algorithm>
#include <cmath>

namespace light {

EmitterSampler::EmitterSampler(const std::vector<EmissiveTriangle>& triangles)
{
    std::vector<double> weights;
    for (const EmissiveTriangle& t : triangles) {
        Vec3f p[3];
        for (std::size_t i = 0; i < 3; ++i)
            p[i] = toFloat(t.corners[i]);
        const Vec3f normal = cross(p[1] - p[0], p[2] - p[0]);
        const float twiceArea = length(normal);
        if (!(twiceArea > 0) || luminance(t.radiance) <= 0)
            continue;
        m_triangles.push_back({p[0], p[1] - p[0], p[2] - p[0], normal / twiceArea, t.radiance, t.body, t.triangle});
        weights.push_back(0.5 * twiceArea * luminance(t.radiance));
        m_total += weights.back();
    }
    double sum = 0;
    for (const double weight : weights)
        m_upTo.push_back(static_cast<float>((sum += weight) / m_total));
}

EmitterSampler::Sample EmitterSampler::sample(Vec3f point, float u, float v) const
{
    const auto found = std::upper_bound(m_upTo.begin(), m_upTo.end(), u);
    const auto index = std::min<std::size_t>(static_cast<std::size_t>(found - m_upTo.begin()), m_triangles.size() - 1);
    const Triangle& t = m_triangles[index];
    // What chose the triangle is spread over 0 to 1 again and chooses the place on it.
    const float from = index > 0 ? m_upTo[index - 1] : 0, share = m_upTo[index] - from;
    const float rest = share > 0 ? std::clamp((u - from) / share, 0.0f, 0.99999994f) : 0.5f;
    const float root = std::sqrt(rest);
    const Vec3f d = t.corner + t.edge1 * (1 - root) + t.edge2 * (v * root) - point;
    const float distance = length(d);
    const Vec3f direction = d / distance;
    const float cosine = -dot(direction, t.normal);
    if (!(cosine > 1e-5f) || !(distance > 0))
        return {};
    return {{direction, distance, luminance(t.radiance), density(t.radiance, distance, cosine)},
            t.radiance,
            t.body,
            t.triangle,
            1 - root,
            v * root};
}

[[gnu::noinline]] EmitterSampler::SamplesWide EmitterSampler::sampleAll(const V3<Wide>& points, const Wide& u, const Wide& v) const
{
    SamplesWide all;
    for (int lane = 0; lane < kLanes; ++lane) {
        const Sample s = sample(laneOf(points, lane), u[lane], v[lane]);
        setLane(all.direction, lane, s.light.direction);
        setLane(all.radiance, lane, s.radiance);
        all.distance.v[lane] = s.light.distance;
        all.pdf.v[lane] = s.light.pdf;
        all.second.v[lane] = s.second;
        all.third.v[lane] = s.third;
        all.body.v[lane] = s.body;
        all.triangle.v[lane] = static_cast<int>(s.triangle);
    }
    return all;
}

}  // namespace light
