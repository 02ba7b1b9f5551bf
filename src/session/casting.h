// Who casts on whom, as a table: a row for each piece and for wall and floor, a column for each light.
#pragma once

#include <string>
#include <vector>

#include "work/work.h"

namespace session {

// Lights of the work in their order, on or off; before them the surroundings, and what gives off light by itself, as far as they are there.
struct CastingSource {
    std::string entry;  // id of the light, or as entries of a film are called
    std::string title;
};
std::vector<CastingSource> castingSources(const work::Work& work);

enum class Casts { Lit, Shadow };  // the piece gets this light; it throws a shadow in it

// `piece` is an id, or work::kGroundId. Wall and floor always throw shadows.
bool casts(const work::Work& work, Casts what, const std::string& entry, const std::string& piece);
// Whether casts() can be chosen: shadows not where the light or the piece throws none at all.
bool canCast(const work::Work& work, Casts what, const std::string& entry, const std::string& piece);
void setCasts(work::Work& work, Casts what, const std::string& entry, const std::string& piece, bool on);
// For all of a column: of shadows the light's own switch, of light every piece that is there, and wall and floor.
bool allCast(const work::Work& work, Casts what, const std::string& entry);
void setAllCast(work::Work& work, Casts what, const std::string& entry, bool on);

// Copies are lit as what they were copied from; by their ids.
void castAlike(work::Work& work, const std::string& piece, const std::string& copy);

}  // namespace session
