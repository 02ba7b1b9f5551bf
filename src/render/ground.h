// The analytic ground.
#pragma once

#include "render/scene.h"

namespace render {

struct GroundHit {
    float distance = 0;
    Vec3f point, normal;
    Vec3f view;        // direction towards the viewer for shading, unit
    int material = 0, materialTo = 0;  // in the bend of a sweep the floor's material turns into the wall's
    float blend = 0;                   // 0: material, 1: materialTo
};

// First hit of a ray (unit direction) with the ground nearer than `farthest`.
bool intersectGround(const Ground& ground, Vec3f origin, Vec3f direction, float farthest, GroundHit& hit);

// In a straight parallel view the floor is only a line. It is folded down there: below the line, each camera ray shows the
// floor as seen from above, unshortened, from foldZ on towards the viewer (measured against the level view direction), so that
// shadows on it stay true to scale. True when the ray is level and starts below the floor.
bool intersectFoldedFloor(const Ground& ground, double foldZ, Vec3f origin, Vec3f direction, GroundHit& hit);

}  // namespace render
