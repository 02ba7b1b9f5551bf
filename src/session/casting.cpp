#include "session/casting.h"

#include <algorithm>

#include "session/edits.h"
#include "work/scene.h"

namespace session {

namespace {

work::Casting& of(work::Work& work, const std::string& entry)
{
    return entry == work::kSurroundingsEntry ? work.surroundings.casting
           : entry == work::kEmissiveEntry   ? work.emissive.casting
                                             : work.lights.items.at(entry).casting;
}

const work::Casting& of(const work::Work& work, const std::string& entry)
{
    return of(const_cast<work::Work&>(work), entry);
}

bool names(const std::vector<std::string>& ids, const std::string& id)
{
    return std::find(ids.begin(), ids.end(), id) != ids.end();
}

void name(std::vector<std::string>& ids, const std::string& id, bool is)
{
    std::erase(ids, id);
    if (is)
        ids.insert(std::upper_bound(ids.begin(), ids.end(), id), id);
}

}  // namespace

std::vector<CastingSource> castingSources(const work::Work& work)
{
    std::vector<CastingSource> sources;
    if (work.surroundings.on)
        sources.push_back({work::kSurroundingsEntry, "Surroundings"});
    if (work::isEmissive(work))
        sources.push_back({work::kEmissiveEntry, "Glowing pieces"});
    for (const std::string& id : work.lights.order)
        sources.push_back({id, lightTitle(work, id)});
    return sources;
}

bool casts(const work::Work& work, Casts what, const std::string& entry, const std::string& piece)
{
    const work::Casting& casting = of(work, entry);
    if (what == Casts::Lit)
        return !names(casting.unlit, piece);
    return piece == work::kGroundId || (casting.shadows && work.pieces.items.at(piece).castsShadow && !names(casting.shadowless, piece));
}

bool canCast(const work::Work& work, Casts what, const std::string& entry, const std::string& piece)
{
    return what == Casts::Lit || (piece != work::kGroundId && of(work, entry).shadows && work.pieces.items.at(piece).castsShadow);
}

void setCasts(work::Work& work, Casts what, const std::string& entry, const std::string& piece, bool on)
{
    work::Casting& casting = of(work, entry);
    name(what == Casts::Lit ? casting.unlit : casting.shadowless, piece, !on);
}

bool allCast(const work::Work& work, Casts what, const std::string& entry)
{
    const work::Casting& casting = of(work, entry);
    if (what == Casts::Shadow)
        return casting.shadows;
    return !names(casting.unlit, work::kGroundId) && std::none_of(work.pieces.order.begin(), work.pieces.order.end(),
                                                                  [&](const std::string& id) { return names(casting.unlit, id); });
}

void setAllCast(work::Work& work, Casts what, const std::string& entry, bool on)
{
    work::Casting& casting = of(work, entry);
    if (what == Casts::Shadow) {
        casting.shadows = on;
        return;
    }
    casting.unlit.clear();
    if (on)
        return;
    for (const std::string& id : work.pieces.order)
        name(casting.unlit, id, true);
    name(casting.unlit, work::kGroundId, true);
}

void castAlike(work::Work& work, const std::string& piece, const std::string& copy)
{
    const auto take = [&](work::Casting& casting) {
        for (std::vector<std::string>* ids : {&casting.unlit, &casting.shadowless})
            if (names(*ids, piece))
                name(*ids, copy, true);
    };
    take(work.surroundings.casting);
    take(work.emissive.casting);
    for (auto& [_, light] : work.lights.items)
        take(light.casting);
}

}  // namespace session
