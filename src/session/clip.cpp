#include "session/clip.h"

#include <algorithm>

#include "session/edits.h"
#include "session/groups.h"
#include "session/layers.h"
#include "work/fonts.h"
#include "work/pictures.h"

namespace session {

std::string swatchFor(work::Work& work, const work::Work& from, const std::string& id)
{
    const auto found = from.swatches.items.find(id);
    if (found == from.swatches.items.end())
        return {};
    for (const auto& [own, swatch] : work.swatches.items)
        if (swatch == found->second)
            return own;
    const std::string added = work.newId("s");
    work.swatches.add(added, found->second);
    return added;
}

namespace {

// A piece of a clip that follows the work's swatches.
work::Piece atHome(work::Work& work, const work::Work& clip, work::Piece piece)
{
    for (work::Material* m : work::materialsIn(piece))
        if (!m->swatch.empty())
            m->swatch = swatchFor(work, clip, m->swatch);
    return piece;
}

}  // namespace

work::Work clipOf(const work::Work& work, const std::vector<std::string>& pieces)
{
    work::Work clip = work;
    clip.lights = {};
    clip.proofs = {};
    std::erase_if(clip.pieces.items, [&](const auto& item) { return std::find(pieces.begin(), pieces.end(), item.first) == pieces.end(); });
    std::erase_if(clip.pieces.order, [&](const std::string& id) { return !clip.pieces.items.contains(id); });
    std::erase_if(clip.assets, [](const auto& asset) { return work::isKeptPicture(asset.first); });
    work::dropUnusedAssets(clip);
    return clip;
}

work::Work clipOfLight(const work::Work& work, const std::string& light)
{
    work::Work clip = clipOf(work, {});
    clip.lights.add(light, work.lights.items.at(light));
    return clip;
}

std::vector<std::string> paste(work::Work& work, const work::Work& clip)
{
    for (const auto& [name, asset] : clip.assets)
        work.assets.try_emplace(name, asset);
    std::vector<std::string> ids;
    for (const std::string& id : clip.pieces.order) {
        work::Piece piece = atHome(work, clip, clip.pieces.items.at(id));
        const double step = std::max(1.0, piece.sizePt() / 8);
        const auto isThere = [&] {
            return std::any_of(work.pieces.items.begin(), work.pieces.items.end(),
                               [&](const auto& item) { return item.second.placement == piece.placement; });
        };
        while (isThere()) {
            piece.placement.x += step;
            piece.placement.y -= step;
        }
        const std::string added = work.newId("p");
        work.pieces.items[added] = std::move(piece);
        printLike(work, clip, id, added);
        ids.push_back(added);
    }
    work.pieces.order.insert(work.pieces.order.begin(), ids.begin(), ids.end());
    regroup(work, ids, clip);
    std::map<std::string, std::string> copies;
    for (std::size_t i = 0; i < ids.size(); ++i)
        copies[clip.pieces.order[i]] = ids[i];
    takeFromCopies(work, copies);
    for (const std::string& id : clip.lights.order) {
        work::Light light = clip.lights.items.at(id);
        if (!light.swatch.empty())
            light.swatch = swatchFor(work, clip, light.swatch);
        light.casting.forgetPieces();
        light.direction += 15;
        work.lights.add(work.newId("l"), light);
    }
    return ids;
}

bool pasteForm(work::Work& work, const Choice& choice, const work::Work& clip)
{
    if (clip.pieces.order.empty())
        return false;
    for (work::Form* form : formsIn(work, choice))
        *form = clip.pieces.items.at(clip.pieces.order.front()).form;
    return true;
}

bool pasteMaterial(work::Work& work, const Choice& choice, const work::Work& clip)
{
    if (clip.pieces.order.empty())
        return false;
    const work::Piece piece = atHome(work, clip, clip.pieces.items.at(clip.pieces.order.front()));
    for (const auto& [name, asset] : clip.assets)
        if (work::isPicture(name))
            work.assets.try_emplace(name, asset);
    for (work::MaterialSet* set : materialsIn(work, choice))
        *set = piece.material;
    return true;
}

bool pasteLight(work::Work& work, const std::string& light, const work::Work& clip)
{
    if (clip.lights.order.empty())
        return false;
    work::Light& to = work.lights.items.at(light);
    work::Light from = clip.lights.items.at(clip.lights.order.front());
    from.name = to.name;
    from.casting = to.casting;
    if (!from.swatch.empty())
        from.swatch = swatchFor(work, clip, from.swatch);
    to = from;
    return true;
}

}  // namespace session
