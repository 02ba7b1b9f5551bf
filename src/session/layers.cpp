#include "session/layers.h"

#include <algorithm>

#include "session/edits.h"
#include "work/properties.h"
#include "work/scene.h"

namespace session {

namespace {

using What = work::LayerWhat;

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
    if (layer.lit != finish::Lit::Any)
        add(layer.lit == finish::Lit::InShadow ? "in shadow" : "in the light");
    if (layer.farFrom != layer.farTo)
        add("by depth");
    if (layer.fades > 0)
        add("fading");
    if (!layer.strokes.order.empty())
        add("drawn by hand");
    return layer.inverted ? "not " + where : where;
}

std::string addLayer(work::Work& work, std::size_t kind, const std::string& below)
{
    const std::string id = work.newId("y");
    const auto at = placeOf(work, below);
    auto& order = work.finish.layers.order;
    const std::string group = work::groupOf(work.finish.layers, below);
    work.finish.layers.items[id] = work::layerOfKind(kind);
    work.finish.layers.items[id].group = group;
    order.insert(at < std::ssize(order) ? order.begin() + at + 1 : order.end(), id);
    return id;
}

std::string addPrint(work::Work& work, const std::string& piece, const std::string& below)
{
    const std::string id = addLayer(work, work::LayerWhat(finish::Print()).index(), below);
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

namespace {

bool isGroup(const work::Ordered<work::Layer>& layers, const std::string& id)
{
    const auto found = layers.items.find(id);
    return found != layers.items.end() && std::holds_alternative<finish::Group>(found->second.what);
}

// From the lowest to the topmost.
std::vector<std::string> layersIn(const work::Ordered<work::Layer>& layers, const std::string& group)
{
    std::vector<std::string> found;
    for (const std::string& id : layers.order)
        if (work::groupOf(layers, id) == group)
            found.push_back(id);
    return found;
}

}  // namespace

std::string duplicateLayer(work::Work& work, const std::string& layer)
{
    auto& layers = work.finish.layers;
    const std::string id = work.newId("y");
    layers.items[id] = layers.items.at(layer);
    layers.order.insert(layers.order.begin() + placeOf(work, layer) + 1, id);
    if (isGroup(layers, layer))
        for (const std::string& one : layersIn(layers, layer)) {
            const std::string copy = work.newId("y");
            layers.items[copy] = layers.items.at(one);
            layers.items[copy].group = id;
            layers.order.insert(layers.order.begin() + placeOf(work, id), copy);
        }
    layers.order = work::together(layers);
    return id;
}

void removeLayer(work::Work& work, const std::string& layer)
{
    const auto found = work.finish.layers.items.find(layer);
    if (found == work.finish.layers.items.end())
        return;
    if (isGroup(work.finish.layers, layer))
        for (const std::string& one : layersIn(work.finish.layers, layer))
            removeLayer(work, one);
    const auto* print = std::get_if<finish::Print>(&found->second.what);
    const std::string piece = print ? print->piece : std::string();
    work.finish.layers.items.erase(found);
    std::erase(work.finish.layers.order, layer);
    if (const auto flat = work.pieces.items.find(piece); flat != work.pieces.items.end() && !isFlat(work, piece))
        flat->second.hidden = true;
}

namespace {

// A group with its layers past what is next to it: one layer, or another group with its own.
void moveGroup(work::Ordered<work::Layer>& layers, const std::string& group, int way)
{
    const std::ptrdiff_t end = std::ranges::find(layers.order, group) - layers.order.begin() + 1,
                         first = end - 1 - std::ssize(layersIn(layers, group)), count = std::ssize(layers.order);
    if (way > 0 ? end >= count : first <= 0)
        return;
    const std::string& next = layers.order[static_cast<std::size_t>(way > 0 ? end : first - 1)];
    const std::string whole = isGroup(layers, next) ? next : work::groupOf(layers, next);
    const std::ptrdiff_t past = whole.empty() ? 1 : 1 + std::ssize(layersIn(layers, whole));
    const auto begin = layers.order.begin();
    if (way > 0)
        std::rotate(begin + first, begin + end, begin + end + past);
    else
        std::rotate(begin + first - past, begin + first, begin + end);
}

void moveOne(work::Ordered<work::Layer>& layers, const std::string& layer, int way)
{
    const std::ptrdiff_t at = std::ranges::find(layers.order, layer) - layers.order.begin(), to = at + way;
    const std::string group = work::groupOf(layers, layer);
    std::string& own = layers.items.at(layer).group;
    const bool isThere = to >= 0 && to < std::ssize(layers.order);
    const std::string next = isThere ? layers.order[static_cast<std::size_t>(to)] : std::string();
    const auto swap = [&] { std::swap(layers.order[static_cast<std::size_t>(at)], layers.order[static_cast<std::size_t>(to)]); };
    if (!group.empty() && way < 0 && work::groupOf(layers, next) != group) {
        own.clear();  // it was the lowest of its group and lies under that now
    } else if (!group.empty() && next == group) {
        own.clear();
        swap();
    } else if (group.empty() && isGroup(layers, next)) {
        own = next;
        if (way < 0)
            swap();
    } else if (group.empty() && !work::groupOf(layers, next).empty()) {
        own = work::groupOf(layers, next);
    } else if (isThere) {
        swap();
    }
}

work::Ordered<work::Layer> movedLayer(work::Ordered<work::Layer> layers, const std::string& layer, int way)
{
    layers.order = work::together(layers);
    if (isGroup(layers, layer))
        moveGroup(layers, layer, way);
    else if (layers.items.contains(layer))
        moveOne(layers, layer, way);
    return layers;
}

}  // namespace

bool canMoveLayer(const work::Work& work, const std::string& layer, int way)
{
    return !(movedLayer(work.finish.layers, layer, way) == movedLayer(work.finish.layers, {}, way));
}

void moveLayer(work::Work& work, const std::string& layer, int way)
{
    work.finish.layers = movedLayer(work.finish.layers, layer, way);
}

void dropLayer(work::Work& work, const std::string& layer, const std::vector<std::string>& order)
{
    auto& layers = work.finish.layers;
    const auto at = std::ranges::find(order, layer);
    if (at == order.end() || !layers.items.contains(layer))
        return;
    layers.order = order;
    if (!isGroup(layers, layer)) {
        const std::string under = at == order.begin() ? std::string() : *std::prev(at),
                          over = at + 1 == order.end() ? std::string() : *std::next(at);
        const std::string was = work::groupOf(layers, layer), group = isGroup(layers, over) ? over : work::groupOf(layers, over);
        const bool inside = !group.empty() && (over == group || work::groupOf(layers, under) == group || was == group);
        layers.items.at(layer).group = inside ? group : std::string();
    }
    layers.order = work::together(layers);
}

std::string addGroup(work::Work& work, const std::string& layer)
{
    static const std::size_t kGroup = work::LayerWhat(finish::Group()).index();
    auto& layers = work.finish.layers;
    const bool some = layers.items.contains(layer) && !isGroup(layers, layer);
    const std::string was = work::groupOf(layers, layer);
    // Groups are not in groups: it goes over the one that the layer was in.
    const std::string id = addLayer(work, kGroup, was.empty() ? layer : was);
    layers.items.at(id).group.clear();
    if (some)
        layers.items.at(layer).group = id;
    layers.order = work::together(layers);
    return id;
}

void dissolveGroup(work::Work& work, const std::string& group)
{
    auto& layers = work.finish.layers;
    if (!isGroup(layers, group))
        return;
    layers.order = work::together(layers);
    for (const std::string& one : layersIn(layers, group))
        layers.items.at(one).group.clear();
    layers.items.erase(group);
    std::erase(layers.order, group);
}

void addStroke(work::Work& work, const std::string& layer, const std::vector<base::Vec2>& points, const Brush& brush)
{
    constexpr std::size_t kMostPoints = 9000;  // what a file takes of one
    const auto found = work.finish.layers.items.find(layer);
    if (found == work.finish.layers.items.end() || points.empty())
        return;
    const std::vector<base::Vec2> kept(points.begin(), points.begin() + static_cast<std::ptrdiff_t>(std::min(points.size(), kMostPoints)));
    found->second.strokes.add(work.newId("b"), {work::textOf(kept), brush.sizeOn(work.sheet()), brush.softness, brush.erases});
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
