#include "session/profiles.h"

#include <algorithm>

#include "solid/profile.h"

namespace session {

namespace {

ProfileNow nowOf(const solid::SlabForm& form, ProfileOf of)
{
    const auto bevel = [](const solid::Bevel& b) {
        const bool isDrawn = b.profile == solid::Profile::Drawn;
        return ProfileNow{isDrawn && !b.drawn.empty() ? b.drawn : solid::asDrawn(b.profile, b.steps), {b.widthPt, b.heightPt}, isDrawn};
    };
    switch (of) {
    case ProfileOf::Front:
        return bevel(form.front);
    case ProfileOf::Back:
        return bevel(form.linked ? form.front : form.back);
    case ProfileOf::Rim:
        return bevel({form.inlay.rimPt, std::abs(form.inlay.sunkPt), form.inlay.profile, form.inlay.steps, false, form.inlay.drawn});
    case ProfileOf::Flutes:
        break;
    }
    const double side = std::max(0.0, form.depthPt - (form.front.none() ? 0 : form.front.heightPt));
    return {form.flutes.drawn.empty() ? solid::kHalfRound : form.flutes.drawn,
            {side / std::max(1, form.flutes.count), form.flutes.deepPt},
            !form.flutes.drawn.empty()};
}

}  // namespace

std::optional<ProfileNow> profileNow(const work::Work& work, const Choice& choice, ProfileOf of)
{
    const auto slabs = formsOf<solid::SlabForm>(work, choice);
    if (slabs.empty())
        return std::nullopt;
    ProfileNow now = nowOf(*slabs.back(), of);
    now.isMixed = std::any_of(slabs.begin(), slabs.end(), [&](const solid::SlabForm* s) { return nowOf(*s, of).path != now.path; });
    return now;
}

void setProfile(work::Work& work, const Choice& choice, ProfileOf of, const std::string& path)
{
    for (solid::SlabForm* slab : formsIn<solid::SlabForm>(work, choice)) {
        const auto draw = [&](auto& edge) {
            edge.profile = solid::Profile::Drawn;
            edge.drawn = path;
        };
        switch (of) {
        case ProfileOf::Front:
            draw(slab->front);
            break;
        case ProfileOf::Back:
            draw(slab->linked ? slab->front : slab->back);
            break;
        case ProfileOf::Rim:
            draw(slab->inlay);
            break;
        case ProfileOf::Flutes:
            slab->flutes.drawn = path;
            break;
        }
    }
}

}  // namespace session
