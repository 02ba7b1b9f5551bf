// Pieces that belong together: chosen and moved as one, neighbours in the order.
#pragma once

#include "session/choice.h"

namespace session {

// The group of a piece that is there, or "".
std::string groupOf(const work::Work& work, const std::string& piece);
std::vector<std::string> piecesIn(const work::Work& work, const std::string& group);  // front to back
// "Title", or what is in it.
std::string groupTitle(const work::Work& work, const std::string& group);

// Puts pieces into a new group, behind each other where the front one is. Groups that lose all their pieces are gone. Returns its id.
std::string group(work::Work& work, const std::vector<std::string>& pieces);
// Takes the whole groups of these pieces apart.
void ungroup(work::Work& work, const std::vector<std::string>& pieces);
// Another order of the pieces. What was moved and lies between two of a group now joins it; what was moved away from its group leaves it.
// O(n) for each that was moved.
void setOrder(work::Work& work, const std::vector<std::string>& order);
// Pieces that are copies: those that come of one group get a new one of its name, a single one none. `from` has the groups that they name.
void regroup(work::Work& work, const std::vector<std::string>& copies, const work::Work& from);
inline void regroup(work::Work& work, const std::vector<std::string>& copies)
{
    regroup(work, copies, work);
}
// Groups without pieces are dropped.
void tidyGroups(work::Work& work);

// A piece with all others of its group.
Choice whole(const work::Work& work, const std::string& piece);
// Whether more than this piece of its group is chosen.
bool isChosenAsGroup(const work::Work& work, const Choice& choice, const std::string& piece);

}  // namespace session
