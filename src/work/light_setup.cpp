#include "work/light_setup.h"

#include <algorithm>
#include <cmath>

#include "work/surroundings.h"
#include "work/values.h"

namespace work {

namespace {

double reachOf(const Work& work)
{
    return std::max(work.sheet().widthPt(), work.sheet().heightPt());
}

}  // namespace

void useLightSetup(Work& work, const LightSetup& setup, bool adds)
{
    Work grown;
    for (const Light& light : setup.lights)
        grown.lights.add("l" + std::to_string(grown.lights.order.size() + 1), light);
    grow(grown, reachOf(work) / setup.reachPt);
    if (!adds)
        work.lights = {};
    for (const std::string& id : grown.lights.order)
        work.lights.add(work.newId("l"), grown.lights.items.at(id));
    if (!adds && setup.surroundingsStops) {
        work.surroundings.on = true;
        setSurroundingsOnCard(work, std::exp2(*setup.surroundingsStops));
    }
}

LightSetup lightSetupOf(const Work& work)
{
    LightSetup setup;
    setup.reachPt = reachOf(work);
    if (const double card = work.surroundings.on ? surroundingsOnCard(work) : 0; card > 0)
        setup.surroundingsStops = std::clamp(std::round(100 * std::log2(card)) / 100, -20.0, 20.0);
    for (const std::string& id : work.lights.order)
        if (const Light& light = work.lights.items.at(id); !light.newer) {
            setup.lights.push_back(light);
            setup.lights.back().swatch.clear();
            setup.lights.back().casting.forgetPieces();
        }
    return setup;
}

}  // namespace work
