// Surroundings that are ready, made of a sky and cards: everything in them can be changed after.
#pragma once

#include <span>
#include <string_view>

#include "work/pictures.h"

namespace work {

struct ReadySurroundings {
    const char* id;
    const char* name;
    const char* words;  // what it is looked for by, and looks like
    Surroundings (*make)();
};
std::span<const ReadySurroundings> readySurroundings();
// The one with that id or name, in any case; nullptr without one.
const ReadySurroundings* readySurroundings(std::string_view name);

// Those that make metal shine that looks at the viewer.
inline constexpr const char* kFrontForMetal = "bright-front";
// Whether a material shows what is round it and little else.
bool isDullInEvenLight(const Material& material);

// Luminance of a white card that faces the viewer and is lit by the surroundings alone, on or off. Some ms, the first time 0.1 s.
double surroundingsOnCard(const Work& work);
// Sets their brightness so that it is that, within 20 stops; nothing where they are black.
void setSurroundingsOnCard(Work& work, double luminance);

// Puts ready ones into the work. `keepsExposure`: a white card that faces the viewer stays as bright by them as it was by the last ones.
// Some 0.1 s.
void useSurroundings(Work& work, const ReadySurroundings& ready, bool keepsExposure = true);
// The same of a picture, in the place of what is there; turn, tilt and cards stay where there was a picture already.
void usePanorama(Work& work, const PanoramaFile& file, bool keepsExposure = true);

}  // namespace work
