// Profiles that are drawn by hand: which they are, and those of all chosen slabs at once.
#pragma once

#include <optional>

#include "session/choice.h"

namespace session {

// Of the bevels in front and at the back, of the inlay's rim, and of one flute.
enum class ProfileOf { Front, Back, Rim, Flutes };

struct ProfileNow {
    std::string path;  // as it is drawn, or the same as what is chosen instead; never empty
    base::Vec2 size;   // of its square, pt
    bool isDrawn = false;
    bool isMixed = false;  // not the same in all that is chosen
};
// Of the last slab that is chosen; nothing where there is none.
std::optional<ProfileNow> profileNow(const work::Work& work, const Choice& choice, ProfileOf of);
// Draws it so in all slabs that are chosen.
void setProfile(work::Work& work, const Choice& choice, ProfileOf of, const std::string& path);

}  // namespace session
