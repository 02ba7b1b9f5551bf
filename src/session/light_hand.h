// Lamps set by what they do: where their glint is seen on a letter, and where a letter's shadow falls.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "render/tracer.h"
#include "session/gestures.h"

namespace session {

// A place on what is seen.
struct Touched {
    Vec3 point, normal;  // in the world; unit, as it is shaded, towards the viewer
    Vec3 view;           // unit, towards the viewer
    bool onGround = false;
};

// Answers for one moment of the work.
class LightHand {
public:
    LightHand(const work::Work& work, const work::WorkBodies& bodies);  // O(triangles)

    // What is seen at a place of the frame, as it is rendered; nothing beyond all things.
    std::optional<Touched> touch(Vec2 place) const;
    // Where on a body the light's middle is hidden from a place on the ground, the nearest to it; nothing where it is not.
    std::optional<Vec3> casterOf(Vec3 onGround, const work::Light& light) const;

private:
    render::Scene m_scene;
    std::unique_ptr<render::Tracer> m_tracer;
};

// A lamp that was moved; what stood in the way, and then it is the nearest possible.
struct AimedLight {
    work::Light light;
    std::string why;  // empty: exactly as asked
};

// Turned round the lettering, with its distance and size, so that the middle of its reflection is seen at a place: in the mirror direction
// of the normal there. Exact for every kind of light; ground that would hide it keeps it on its visible side.
AimedLight withGlintAt(const work::Light& light, const work::Ground& ground, const Touched& at);
// The same so that the shadow of `caster` falls on a place.
AimedLight withShadowAt(const work::Light& light, const work::Ground& ground, Vec3 caster, Vec3 onGround);
// Sized so that the shadow of `caster` at a place goes over from light to dark within `width`, pt (square to the way of the light): by the
// theorem of intersecting lines.
work::Light withPenumbra(const work::Light& light, Vec3 caster, Vec3 onGround, double width);

// A card of the surroundings whose reflection is seen at a place.
work::SkyCard withGlintAt(const work::SkyCard& card, const work::Surroundings& surroundings, const Touched& at);

}  // namespace session
