// Lamps that are set together, to begin with.
#pragma once

#include <optional>
#include <vector>

#include "work/work.h"

namespace work {

struct LightSetup {
    double reachPt = 1000;                    // longer side of the sheet it was made for
    std::optional<double> surroundingsStops;  // brightness of what comes from all round beside it; as it is without one
    std::vector<Light> lights;
};

// The lamps in the place of those that are there, as large as the sheet asks for; or beside them, then the surroundings stay as they are.
// As seen from the front, wherever the viewer is.
void useLightSetup(Work& work, const LightSetup& setup, bool adds = false);

// The lamps of a work as a set-up.
LightSetup lightSetupOf(const Work& work);

}  // namespace work
