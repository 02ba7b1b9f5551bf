#include "session/layers.h"

#include <algorithm>

#include "session/edits.h"
#include "work/properties.h"
#include "work/scene.h"

namespace session {

namespace {

using What = decltype(work::Layer::what);

std::string namesOf(const work::Work& work, const work::Layer& layer)
{
    std::string names;
    const auto add = [&](const std::string& name) { names += (names.empty() ? "" : ", ") + name; };
    for (const std::string& part : layer.parts)
        if (const auto found = std::ranges::find_if(work::kParts, [&](const auto& p) { return part == p.name; });
            found != std::end(work::kParts))
            add(found->label);
    for (const std::string& piece : layer.pieces) {
        const std::size_t slash = piece.find('/');
        const auto found = work.pieces.items.find(piece.substr(0, slash));
        if (found == work.pieces.items.end())
            add("gone");
        else if (slash == std::string::npos)
            add(titleOf(found->second));
        else
            add(letterText(found->second, piece.substr(slash + 1)));
    }
    return names;
}

auto placeOf(const work::Work& work, const std::string& layer)
{
    return std::ranges::find(work.finish.layers.order, layer) - work.finish.layers.order.begin();
}

}  // namespace

std::string layerTitle(const work::Work& work, const work::Layer& layer)
{
    if (!layer.name.empty())
        return layer.name;
    if (const auto* newer = std::get_if<work::Newer>(&layer.what))
        return newer->kind + ", made by a newer version";
    if (const auto* print = std::get_if<finish::Print>(&layer.what))
        if (const auto piece = work.pieces.items.find(print->piece); piece != work.pieces.items.end())
            return titleOf(piece->second);
    return work::Kinds<What>::names[layer.what.index()].label;
}

std::string whereText(const work::Work& work, const work::Layer& layer)
{
    std::string where = work::labelOf(layer.acts, work::kActs);
    if (const std::string names = namesOf(work, layer); !names.empty())
        where = layer.acts == finish::Acts::Behind ? "Behind " + names : names;
    const auto add = [&](const std::string& more) { where += ", " + more; };
    if (!layer.light.empty())
        add("in the light of " + entryTitle(work, layer.light));
    if (layer.darkest > 0 || layer.brightest < 1)
        add("by brightness");
    if (layer.fades > 0)
        add("fading");
    return layer.inverted ? "not " + where : where;
}

std::string addLayer(work::Work& work, std::size_t kind, const std::string& below)
{
    const std::string id = work.newId("y");
    const auto at = placeOf(work, below);
    auto& order = work.finish.layers.order;
    work.finish.layers.items[id] = work::layerOfKind(kind);
    order.insert(at < std::ssize(order) ? order.begin() + at + 1 : order.end(), id);
    return id;
}

std::string addPrint(work::Work& work, const std::string& piece, const std::string& below)
{
    const std::string id = addLayer(work, decltype(work::Layer::what)(finish::Print()).index(), below);
    auto& print = std::get<finish::Print>(work.finish.layers.items.at(id).what);
    print.piece = piece;
    const work::Material face = work.pieces.items.at(piece).material.of("face");
    print.colour = face.baseColour;
    print.swatch = face.swatch;
    return id;
}

std::string addCaption(work::Work& work, const std::string& text, const std::string& below)
{
    constexpr double kOfHeight = 1.0 / 28, kFoot = 0.44;
    const std::string id = addLettering(work, text);
    work::Piece& piece = work.pieces.items.at(id);
    piece.lettering()->run = {};
    piece.lettering()->fits = false;
    piece.lettering()->layout.sizePt = work.sheet().heightPt() * kOfHeight;
    piece.lettering()->layout.align = outline::Align::Centre;
    piece.steps = {};
    piece.placement = {};
    piece.placement.y = -kFoot * work.sheet().heightPt();
    const std::string layer = addPrint(work, id, below);
    auto& print = std::get<finish::Print>(work.finish.layers.items.at(layer).what);
    print.colour = work::colourOnGround(work);
    print.swatch.clear();
    return layer;
}

void printLike(work::Work& work, const work::Work& from, const std::string& original, const std::string& copy)
{
    std::vector<work::Layer> prints;
    for (const std::string& id : from.finish.layers.order)
        if (const auto* print = std::get_if<finish::Print>(&from.finish.layers.items.at(id).what); print && print->piece == original)
            prints.push_back(from.finish.layers.items.at(id));
    for (work::Layer& layer : prints) {
        auto& print = std::get<finish::Print>(layer.what);
        print.piece = copy;
        if (!work.swatches.items.contains(print.swatch))
            print.swatch.clear();
        work.finish.layers.add(work.newId("y"), std::move(layer));
    }
}

void forgetPrints(work::Work& work, const std::string& piece)
{
    std::erase_if(work.finish.layers.items, [&](const auto& item) {
        const auto* print = std::get_if<finish::Print>(&item.second.what);
        return print && print->piece == piece;
    });
    std::erase_if(work.finish.layers.order, [&](const std::string& id) { return !work.finish.layers.items.contains(id); });
}

std::string duplicateLayer(work::Work& work, const std::string& layer)
{
    const std::string id = work.newId("y");
    work.finish.layers.items[id] = work.finish.layers.items.at(layer);
    work.finish.layers.order.insert(work.finish.layers.order.begin() + placeOf(work, layer) + 1, id);
    return id;
}

void removeLayer(work::Work& work, const std::string& layer)
{
    const auto found = work.finish.layers.items.find(layer);
    if (found == work.finish.layers.items.end())
        return;
    const auto* print = std::get_if<finish::Print>(&found->second.what);
    const std::string piece = print ? print->piece : std::string();
    work.finish.layers.items.erase(found);
    std::erase(work.finish.layers.order, layer);
    if (const auto flat = work.pieces.items.find(piece); flat != work.pieces.items.end() && !isFlat(work, piece))
        flat->second.hidden = true;
}

bool canMoveLayer(const work::Work& work, const std::string& layer, int way)
{
    const auto to = placeOf(work, layer) + way;
    return work.finish.layers.items.contains(layer) && to >= 0 && to < std::ssize(work.finish.layers.order);
}

void moveLayer(work::Work& work, const std::string& layer, int way)
{
    const auto at = placeOf(work, layer);
    if (canMoveLayer(work, layer, way))
        std::swap(work.finish.layers.order[static_cast<std::size_t>(at)], work.finish.layers.order[static_cast<std::size_t>(at + way)]);
}

void actOnChosen(work::Work& work, const std::string& layer, const Choice& choice)
{
    const auto found = work.finish.layers.items.find(layer);
    if (found == work.finish.layers.items.end())
        return;
    const auto addOnce = [](std::vector<std::string>& names, const std::string& name) {
        if (!name.empty() && std::ranges::find(names, name) == names.end())
            names.push_back(name);
    };
    found->second.pieces.clear();
    found->second.parts.clear();
    for (const Target& target : choice.targets) {
        addOnce(found->second.pieces, target.letter.empty() ? target.piece : target.piece + "/" + target.letter);
        addOnce(found->second.parts, target.part);
    }
}

}  // namespace session
