#include "solid/block.h"

#include <algorithm>

#include "solid/along.h"
#include "solid/slab.h"

namespace solid {

base::Result<Body> makeBlock(const outline::Outline& outline, const BlockForm& form, double tolerancePt, const base::Progress& progress)
{
    const Vec2 to = form.resolved.value_or(Vec2{form.x, form.y});
    Along along;
    if (form.toPoint) {
        along.taper = 1 - std::clamp(form.share, 0.0, 1.0);
        along.about = to;
    } else {
        along.leanX = to.x;
        along.leanY = to.y;
    }
    const base::Box2 box = outline::bounds(outline);
    double longest = 0;
    for (const Vec2 corner : {box.low, box.high, Vec2{box.low.x, box.high.y}, Vec2{box.high.x, box.low.y}})
        longest = std::max(longest, form.toPoint ? form.share * length(to - corner) : length(to));
    SlabForm slab;
    slab.depthPt = form.depthPt > 0 ? form.depthPt : std::max(kThinnestPt, kFlatBlock * longest);
    slab.along = along;
    return makeSlab(outline, slab, tolerancePt, progress);
}

}  // namespace solid
