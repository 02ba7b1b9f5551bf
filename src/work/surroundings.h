// Surroundings that are ready, made of a sky and cards: everything in them can be changed after.
#pragma once

#include <span>
#include <string_view>

#include "work/work.h"

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

// Puts ready ones into the work. `keepsExposure`: a white card that faces the viewer stays as bright by them as it was by the last ones.
// Some 0.1 s.
void useSurroundings(Work& work, const ReadySurroundings& ready, bool keepsExposure = true);

}  // namespace work
