#include "session/groups.h"

#include <algorithm>
#include <map>
#include <set>
#include <utility>

namespace session {

std::string groupOf(const work::Work& work, const std::string& piece)
{
    const auto found = work.pieces.items.find(piece);
    return found != work.pieces.items.end() && work.groups.items.contains(found->second.group) ? found->second.group : std::string();
}

std::vector<std::string> piecesIn(const work::Work& work, const std::string& group)
{
    std::vector<std::string> pieces;
    for (const std::string& id : work.pieces.order)
        if (!group.empty() && work.pieces.items.at(id).group == group)
            pieces.push_back(id);
    return pieces;
}

std::string groupTitle(const work::Work& work, const std::string& group)
{
    if (const std::string& name = work.groups.items.at(group).name; !name.empty())
        return name;
    std::string title;
    for (const std::string& id : piecesIn(work, group))
        title += (title.empty() ? "" : ", ") + titleOf(work.pieces.items.at(id));
    return title;
}

void tidyGroups(work::Work& work)
{
    std::erase_if(work.groups.items, [&](const auto& item) { return piecesIn(work, item.first).empty(); });
    std::erase_if(work.groups.order, [&](const std::string& id) { return !work.groups.items.contains(id); });
}

void regroup(work::Work& work, const std::vector<std::string>& copies, const work::Work& from)
{
    std::map<std::string, std::vector<std::string>> together;
    for (const std::string& id : copies)
        together[std::exchange(work.pieces.items.at(id).group, {})].push_back(id);
    std::map<std::string, std::string> names;
    for (const auto& [was, members] : together)
        if (const auto found = from.groups.items.find(was); found != from.groups.items.end() && members.size() > 1)
            names[was] = found->second.name;
    for (const auto& [was, name] : names)
        work.groups.items.at(group(work, together.at(was))).name = name;
}

std::string group(work::Work& work, const std::vector<std::string>& pieces)
{
    const std::string id = work.newId("t");
    work.groups.add(id, {});
    for (const std::string& piece : pieces)
        work.pieces.items.at(piece).group = id;
    const std::vector<std::string> members = piecesIn(work, id);
    auto& order = work.pieces.order;
    const auto front = std::find(order.begin(), order.end(), members.front()) - order.begin();
    std::erase_if(order, [&](const std::string& piece) { return std::find(members.begin(), members.end(), piece) != members.end(); });
    order.insert(order.begin() + front, members.begin(), members.end());
    tidyGroups(work);
    return id;
}

void ungroup(work::Work& work, const std::vector<std::string>& pieces)
{
    for (const std::string& piece : pieces)
        for (const std::string& member : piecesIn(work, groupOf(work, piece)))
            work.pieces.items.at(member).group.clear();
    tidyGroups(work);
}

namespace {

// What was taken from its place: all but a longest run of pieces that kept their order.
std::set<std::string> movedBetween(const std::vector<std::string>& before, const std::vector<std::string>& after)
{
    std::map<std::string, std::size_t> was;
    for (std::size_t i = 0; i < before.size(); ++i)
        was[before[i]] = i;
    // Longest increasing subsequence, by the least end of each length.
    std::vector<std::size_t> ends, link(after.size());
    for (std::size_t i = 0; i < after.size(); ++i) {
        const auto at = std::lower_bound(ends.begin(), ends.end(), was.at(after[i]),
                                         [&](std::size_t end, std::size_t value) { return was.at(after[end]) < value; });
        link[i] = at == ends.begin() ? i : *(at - 1);
        at == ends.end() ? ends.push_back(i) : void(*at = i);
    }
    std::set<std::string> moved(after.begin(), after.end());
    if (!ends.empty())
        for (std::size_t i = ends.back();; i = link[i]) {
            moved.erase(after[i]);
            if (link[i] == i)
                break;
        }
    return moved;
}

}  // namespace

void setOrder(work::Work& work, const std::vector<std::string>& order)
{
    const std::set<std::string> moved = movedBetween(work.pieces.order, order);
    work.pieces.order = order;
    const auto stayed = [&](std::size_t i) { return !moved.contains(order[i]); };
    for (std::size_t i = 0; i < order.size(); ++i) {
        if (stayed(i))
            continue;
        std::string ahead, behind;  // groups of the nearest that stayed
        for (std::size_t k = i; k-- > 0;)
            if (stayed(k)) {
                ahead = groupOf(work, order[k]);
                break;
            }
        for (std::size_t k = i + 1; k < order.size(); ++k)
            if (stayed(k)) {
                behind = groupOf(work, order[k]);
                break;
            }
        std::string& own = work.pieces.items.at(order[i]).group;
        const std::vector<std::string> members = piecesIn(work, own);
        const bool allMoved = std::all_of(members.begin(), members.end(), [&](const std::string& m) { return moved.contains(m); });
        if (!ahead.empty() && ahead == behind)
            own = ahead;
        else if (!allMoved && own != ahead && own != behind)
            own.clear();
    }
    tidyGroups(work);
}

Choice whole(const work::Work& work, const std::string& piece)
{
    Choice choice;
    for (const std::string& member : piecesIn(work, groupOf(work, piece)))
        if (member != piece)
            choice.add({member, {}});
    choice.add({piece, {}});  // it leads
    return choice;
}

bool isChosenAsGroup(const work::Work& work, const Choice& choice, const std::string& piece)
{
    const std::vector<std::string> members = piecesIn(work, groupOf(work, piece));
    return std::any_of(members.begin(), members.end(), [&](const std::string& id) { return id != piece && choice.has({id, {}}); });
}

}  // namespace session
