// Lights as surfaces to aim at: sampling, density, and what a ray that runs into one sees.
#pragma once

#include "render/scene.h"

namespace render {

struct LightSample {
    Vec3f direction;      // unit, from the point to the light
    float distance = 0;   // to the light's surface; infinite for a sun
    float radiance = 0;   // of the light at brightness 1 towards the point
    float pdf = 0;        // per steradian; 0 when the point gets nothing
};

// Radiance that makes a white card at the aim, square to the light, send back 1.
double radianceAtBrightness1(const Light& light);

// A light prepared for sampling.
class LightSampler {
public:
    explicit LightSampler(const Light& light);

    LightSample sample(Vec3f point, float u, float v) const;
    // What a ray sees of the light within `farthest`: radiance and the density with which sample() would have chosen it.
    // pdf 0 when it misses.
    LightSample hit(Vec3f origin, Vec3f direction, float farthest) const;

private:
    float spotFactor(Vec3f direction) const;

    LightKind m_kind;
    Vec3f m_position, m_towards, m_right, m_up;
    float m_halfWidth, m_halfHeight, m_radius, m_radiance;
    float m_coneCosine, m_innerCosine;
    float m_sunCosine = 1;
};

}  // namespace render
