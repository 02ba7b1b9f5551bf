// The light desk: brightness and colour of each light over a picture that is there, without rendering again, until the work takes
// them over.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "finish/develop.h"
#include "work/work.h"

namespace work {

struct DeskChannel {
    std::string entry;  // of the film: a light's or card's id, kSurroundingsEntry or kEmissiveEntry
    Rgb colour{1, 1, 1};
    double stops = 0;
    bool rendered = true;  // false: it was off when the picture was made, or gave off nothing
    double kelvin = picture::kWhiteKelvin;
    bool isCard = false;  // of the surroundings: it is as bright over them

    bool operator==(const DeskChannel&) const = default;
    Rgb factor() const;
};

struct LightDesk {
    std::vector<DeskChannel> channels;  // surroundings, their own cards, emissive materials, lights in their order
    std::set<std::string> solo;         // when there are any, these entries alone are seen

    bool operator==(const LightDesk&) const = default;
    DeskChannel* find(const std::string& entry);
    // Factors for the entries of a film; 0 for what has no channel.
    std::vector<Rgb> factorsFor(const film::Entries& entries) const;
};

// The desk as the work has it. Emissive materials have a channel when some give off light.
LightDesk deskOf(const Work& work);

// Writes brightness and colour back; solo is not written. Lights that are gone are left out.
void useDesk(Work& work, const LightDesk& desk);

// Whether `moved` differs from `rendered` in desk and finish alone, so that the one's film serves the other. Errors: BadInput, with
// the place: a light that was off, or what needs rendering again.
base::Result<void> onlyDeskMoved(const Work& rendered, const Work& moved);

}  // namespace work
