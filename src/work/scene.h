// From a work and its bodies to what the renderer sees, and to how its film is developed.
#pragma once

#include "finish/develop.h"
#include "render/scene.h"
#include "work/bodies.h"

namespace work {

// The film entries that are no lights; those have their ids as names.
inline constexpr const char* kSurroundingsEntry = "surroundings";
inline constexpr const char* kEmissiveEntry = "emissive";

render::Camera cameraOf(const Work& work, const WorkBodies& bodies);
light::Light lightOf(const Light& light);

// What is seen at a pixel; no piece where that is none of the work. Wall, floor and nothing have neither.
Address addressOf(const Work& work, const film::PixelId& id);

// True when a piece that is seen has a material that gives off light.
bool isEmissive(const Work& work);

// What surroundings of that kind look like, before the desk; `together` with the light of cards that have an entry of their own.
light::Sky skyOf(const Work& work, bool together = false);
// Cards that are seen and have an entry of their own, in the order of their entries.
std::vector<std::string> ownCardsOf(const Work& work);
// The scene of the sheet. Lights and surroundings that are off have no entry, nor have materials when none gives off light.
render::Scene makeScene(const Work& work, const WorkBodies& bodies);

// The work as far as its film depends on it: what only desk, finish and window need is at its usual value, and of the lights'
// brightness stays what steers the sampling, in steps of a factor of four against the brightest. Works with equal exposures
// share a film: the same samples, byte for byte.
Work exposureOf(const Work& work);

// What a change asks for. The one rule for the live picture, film files, finals and the desk.
enum class Rework {
    Nothing,    // the same picture
    Mix,        // the film serves as it is: its lights are mixed, or it is developed, in another way
    Steer,      // the same, but a new film would spend its samples otherwise: brightness has crossed a step of a factor of four
    SwitchOff,  // the same at the desk, where a light that was rendered can be switched off; a new film would do without it
    Expose,     // the film is of something else
};
Rework reworkBetween(const Work& before, const Work& after);

// Desk and finish, matching the entries of makeScene().
finish::DevelopSettings developSettingsOf(const Work& work, bool transparent);

}  // namespace work
