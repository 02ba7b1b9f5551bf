// Bodies that give off light, as something to aim at: their triangles, chosen by how much light they give off.
#pragma once

#include <array>
#include <vector>

#include "light/light.h"
#include "surface/material.h"

namespace light {

// A triangle that gives off light outwards (counter-clockwise from there).
struct EmissiveTriangle {
    std::array<Vec3, 3> corners;
    Rgb radiance;   // at most, where a picture changes it
    int body = -1;  // which triangle of which body it is, for those who know more about it
    std::uint32_t triangle = 0;
};

class EmitterSampler {
public:
    // O(triangles). Those without area or light are left out.
    explicit EmitterSampler(const std::vector<EmissiveTriangle>& triangles);

    bool empty() const { return m_triangles.empty(); }
    // A point on a triangle, as seen from `point`, and its colour. pdf is 0 when it is seen from behind.
    struct Sample {
        LightSample light;
        Rgb radiance;
        int body = -1;
        std::uint32_t triangle = 0;
        float second = 0, third = 0;  // shares of its corners
    };
    Sample sample(Vec3f point, float u, float v) const;
    // The same for points side by side.
    struct SamplesWide {
        V3<Wide> direction, radiance;
        Wide distance, pdf, second, third;
        WideInt body, triangle;
    };
    SamplesWide sampleAll(const V3<Wide>& points, const Wide& u, const Wide& v) const;
    // Density, per steradian, with which sample() would have chosen what a ray has hit at this distance.
    template <class F>
    F density(V3<F> radiance, F distance, F cosine) const
    {
        return select(cosine > 1e-5f, distance * distance * luminance(radiance) / (cosine * static_cast<float>(m_total)), F(0));
    }

private:
    struct Triangle {
        Vec3f corner, edge1, edge2, normal;
        Rgb radiance;
        int body;
        std::uint32_t triangle;
    };
    std::vector<Triangle> m_triangles;
    std::vector<float> m_upTo;  // running share of the whole, by area times luminance
    double m_total = 0;
};

}  // namespace light
