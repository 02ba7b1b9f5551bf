#include "session/edits.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <map>

#include "base/units.h"
#include "session/casting.h"
#include "session/groups.h"
#include "session/layers.h"
#include "work/scene.h"
#include "work/values.h"

namespace session {

namespace {

template <class T>
std::size_t placeOf(const work::Ordered<T>& things, const std::string& id)
{
    return static_cast<std::size_t>(std::find(things.order.begin(), things.order.end(), id) - things.order.begin());
}

template <class T>
void insert(work::Ordered<T>& things, const std::string& id, T thing, std::size_t place)
{
    things.items[id] = std::move(thing);
    things.order.insert(things.order.begin() + static_cast<std::ptrdiff_t>(std::min(place, things.order.size())), id);
}

template <class T>
void erase(work::Ordered<T>& things, const std::string& id)
{
    things.items.erase(id);
    std::erase(things.order, id);
}

}  // namespace

std::string addLettering(work::Work& work, const std::string& text)
{
    work::Piece piece;
    const auto like = std::find_if(work.pieces.order.begin(), work.pieces.order.end(),
                                   [&](const std::string& id) { return work.pieces.items.at(id).lettering() != nullptr; });
    if (like == work.pieces.order.end()) {
        // A weight that has room for bevels.
        piece = work::newWork(text, {work::FontChoice().family, "Bold", {}, 0, {}}, work.sheet()).pieces.items.begin()->second;
        piece.lettering()->fits = true;
        piece.material.piece.baseColour = work::colourOnGround(work);
    } else {
        piece = work.pieces.items.at(*like);
        if (piece.placement.stance == work::Stance::OnFloor)
            piece.placement.z += work::depthOf(piece.form) + piece.sizePt() / 3;  // in front of it
        else
            piece.placement.y -= piece.lettering()->layout.sizePt * piece.lettering()->layout.lineSpacing;
        piece.lettering()->fits = false;  // as large as that one
        piece.name.clear();
        piece.letters.clear();
        piece.copies = {};
        piece.hidden = piece.locked = false;
        piece.group.clear();
        work::setText(piece, text);
    }
    const std::string id = work.newId("p");
    insert(work.pieces, id, std::move(piece), 0);
    return id;
}

void takeFromCopies(work::Work& work, const std::map<std::string, std::string>& copies)
{
    const auto take = [&](std::string& id) {
        if (const auto copy = copies.find(id); copy != copies.end())
            id = copy->second;
    };
    for (const auto& [original, id] : copies) {
        castAlike(work, original, id);
        work::Piece& piece = work.pieces.items.at(id);
        if (work::Lettering* lettering = piece.lettering())
            take(lettering->run.piece);
        if (work::Shape* shape = piece.shape())
            take(shape->piece);
        for (auto& [step, outlineStep] : piece.steps.items)
            if (auto* combine = std::get_if<work::Combine>(&outlineStep.what))
                take(combine->piece);
    }
}

namespace {

// The plate behind a piece, or behind letters of it; "" when there is none.
std::string plateBehind(const work::Work& work, const std::string& piece, const std::vector<std::string>& letters)
{
    for (const auto& [id, other] : work.pieces.items)
        if (const work::Shape* shape = other.shape();
            shape && shape->isPlate() && shape->behind && shape->piece == piece && shape->letters == letters)
            return id;
    return {};
}

}  // namespace

std::vector<std::string> addPlates(work::Work& work, const Choice& choice, bool plate, bool rim)
{
    std::vector<std::string> ids;
    for (const std::string& chosen : choice.pieces()) {
        std::string round = chosen;
        std::vector<std::string> letters;
        for (const Target& target : choice.targets)
            if (target.piece == round && !target.letter.empty())
                letters.push_back(work::letterOf(target.letter));
        // What has a plate already gets the next one behind that.
        for (std::string behind; plate && !(behind = plateBehind(work, round, letters)).empty(); letters.clear())
            round = behind;
        const work::Piece piece = work.pieces.items.at(round);
        const bool onPlate = piece.shape() && piece.shape()->isPlate();
        const double size = piece.sizePt(), wide = size / 20;
        work::Shape shape;
        shape.kind = work::ShapeKind::Plate;
        shape.piece = round;
        shape.width = shape.height = size;
        shape.letters = letters;
        const auto add = [&](const work::Shape& source, double depth, const work::Material& material, const char* name) {
            work::Piece added;
            added.name = name;
            added.group = piece.group;
            added.source = source;
            solid::SlabForm slab;
            slab.depthPt = depth;
            slab.front = {size / 100, size / 100, solid::Profile::Roundover, 8};
            added.form = slab;
            added.material.piece = material;
            added.placement.stance = work::Stance::Free;
            ids.push_back(work.newId("p"));
            insert(work.pieces, ids.back(), std::move(added), placeOf(work.pieces, round) + 1);
        };
        // In the colour of the sides, which goes with the face's; the plate darker, so that both are seen before it, and lighter again
        // behind another.
        work::Material edge = piece.material.of("side"), board = edge;
        edge.emission = board.emission = 0;
        board.baseColour = onPlate ? lerp(board.baseColour, base::Rgb{1, 1, 1}, 0.45f) : board.baseColour * 0.35f;
        board.swatch.clear();
        if (plate) {
            shape.margin = rim ? 2 * wide : 1.5 * wide;
            shape.rim = 0;
            shape.behind = true;
            add(shape, size / 16, board, "Plate");
        }
        if (rim) {
            shape.margin = wide;
            shape.rim = wide;
            shape.behind = false;
            add(shape, work::depthOf(piece.form) > 0 ? 0.7 * work::depthOf(piece.form) : size / 10, edge, "Rim");
        }
    }
    return ids;
}

void becomePlate(work::Work& work, const std::string& id)
{
    work::Piece& piece = work.pieces.items.at(id);
    work::Shape& shape = *piece.shape();
    shape.kind = work::ShapeKind::Plate;
    for (const std::string& other : work.pieces.order) {
        const work::Shape* round = work.pieces.items.at(other).shape();
        if (!shape.piece.empty() || other == id || (round && round->isPlate()))
            continue;
        shape.piece = other;
        shape.margin = work.pieces.items.at(other).sizePt() / 14;
    }
    piece.placement = {};
    piece.placement.stance = work::Stance::Free;
}

std::vector<std::string> duplicate(work::Work& work, const std::vector<std::string>& pieces)
{
    std::vector<std::string> ids;
    for (const std::string& original : pieces) {
        work::Piece piece = work.pieces.items.at(original);
        const double step = piece.sizePt() / 6;
        piece.placement.x += step;
        if (piece.placement.stance == work::Stance::OnFloor)
            piece.placement.z += step;
        else
            piece.placement.y -= step;
        ids.push_back(work.newId("p"));
        insert(work.pieces, ids.back(), std::move(piece), placeOf(work.pieces, original));
    }
    regroup(work, ids);
    std::map<std::string, std::string> copies;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        copies[pieces[i]] = ids[i];
        printLike(work, work, pieces[i], ids[i]);
    }
    takeFromCopies(work, copies);
    return ids;
}

void remove(work::Work& work, const std::vector<std::string>& pieces)
{
    for (const std::string& id : pieces) {
        erase(work.pieces, id);
        forgetPrints(work, id);
        for (auto& [_, sheet] : work.sheets.items)
            sheet.shifts.erase(id);
    }
    tidyGroups(work);
}

void reorder(work::Work& work, const std::vector<std::string>& pieces, int way)
{
    std::vector<std::string> order = work.pieces.order;
    const auto moves = [&](const std::string& id) { return std::find(pieces.begin(), pieces.end(), id) != pieces.end(); };
    if (way > 0)
        std::reverse(order.begin(), order.end());
    for (std::size_t i = 1; i < order.size(); ++i) {
        if (!moves(order[i]) || moves(order[i - 1]))
            continue;
        // Past the one before it, or past all of another group.
        const std::string own = groupOf(work, order[i]), passed = groupOf(work, order[i - 1]);
        std::size_t to = i - 1;
        while (!passed.empty() && passed != own && to > 0 && groupOf(work, order[to - 1]) == passed)
            --to;
        std::rotate(order.begin() + static_cast<std::ptrdiff_t>(to), order.begin() + static_cast<std::ptrdiff_t>(i),
                    order.begin() + static_cast<std::ptrdiff_t>(i) + 1);
    }
    if (way > 0)
        std::reverse(order.begin(), order.end());
    setOrder(work, order);
}

namespace {

// From the viewer's side, where no other light is near; the letters show it at once.
void placeFreely(const work::Work& work, work::Light& light)
{
    const auto unit = [](const work::Light& l) {
        const double a = base::radians(l.direction), h = base::radians(l.height);
        return base::Vec3{std::sin(a) * std::cos(h), std::sin(h), std::cos(a) * std::cos(h)};
    };
    double best = -1;
    for (const double height : {40.0, 20.0, 60.0})
        for (const double direction : {-45.0, 45.0, -70.0, 70.0, -20.0, 20.0, 0.0}) {
            work::Light tried = light;
            tried.direction = direction + work.view().walk;
            tried.height = height;
            double nearest = 2;  // distance between unit directions
            for (const auto& [_, other] : work.lights.items)
                nearest = std::min(nearest, length(unit(other) - unit(tried)));
            if (nearest > best + 1e-9) {
                best = nearest;
                light.direction = tried.direction;
                light.height = height;
            }
        }
    light.direction = std::remainder(light.direction, 360);
}

}  // namespace

std::string addLight(work::Work& work, light::LightKind kind)
{
    const double reach = std::max(work.sheet().widthPt(), work.sheet().heightPt());
    work::Light light;
    light.kind = kind;
    light.distance = kind == light::LightKind::Bulb || kind == light::LightKind::Spot ? reach : 2 * reach;
    light.width = light.breadth = 0.85 * reach;
    light.size = reach / 24;
    placeFreely(work, light);
    const std::string id = work.newId("l");
    insert(work.lights, id, light, work.lights.order.size());
    return id;
}

std::string duplicateLight(work::Work& work, const std::string& original)
{
    work::Light light = work.lights.items.at(original);
    light.direction = -light.direction;
    const std::string id = work.newId("l");
    insert(work.lights, id, light, placeOf(work.lights, original) + 1);
    return id;
}

void removeLight(work::Work& work, const std::string& light)
{
    erase(work.lights, light);
}

std::string entryTitle(const work::Work& work, const std::string& entry)
{
    if (entry == work::kSurroundingsEntry)
        return "Surroundings";
    if (entry == work::kEmissiveEntry)
        return "Materials that give off light";
    if (const auto card = work.surroundings.cards.items.find(entry); card != work.surroundings.cards.items.end())
        return card->second.name.empty() ? "Card" : card->second.name;
    return work.lights.items.contains(entry) ? lightTitle(work, entry) : "A light that is gone";
}

std::string lightTitle(const work::Work& work, const std::string& id)
{
    const work::Light& light = work.lights.items.at(id);
    if (!light.name.empty())
        return light.name;
    if (light.newer)
        return light.newer->kind + ", made by a newer version";
    const std::string kind = work::labelOf(light.kind, work::kLights);
    int same = 0, number = 0;
    for (const std::string& other : work.lights.order)
        if (const work::Light& l = work.lights.items.at(other); l.kind == light.kind && l.name.empty() && !l.newer) {
            ++same;
            if (other == id)
                number = same;
        }
    return same > 1 ? kind + " " + std::to_string(number) : kind;
}

std::string saveView(work::Work& work, const std::string& name)
{
    const std::string id = work.newId("v");
    insert(work.views, id, {name, work.view()}, work.views.order.size());
    return id;
}

std::string addSwatch(work::Work& work, const std::string& name, base::Rgb colour)
{
    const std::string id = work.newId("s");
    insert(work.swatches, id, {name, colour}, work.swatches.order.size());
    return id;
}

int addSwatches(work::Work& work, const std::vector<work::Swatch>& swatches)
{
    int added = 0;
    for (const work::Swatch& swatch : swatches) {
        const bool isThere = std::any_of(work.swatches.items.begin(), work.swatches.items.end(), [&](const auto& item) {
            return picture::hexFromRgb(item.second.colour) == picture::hexFromRgb(swatch.colour);
        });
        if (isThere)
            continue;
        addSwatch(work, swatch.name, swatch.colour);
        ++added;
    }
    return added;
}

int exchangeSwatches(work::Work& work, const std::vector<work::Swatch>& swatches)
{
    const auto sameName = [](const std::string& a, const std::string& b) {
        return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                          [](unsigned char x, unsigned char y) { return std::tolower(x) == std::tolower(y); });
    };
    std::vector<const work::Swatch*> left;
    for (const work::Swatch& swatch : swatches)
        left.push_back(&swatch);
    std::map<std::string, const work::Swatch*> taken;  // by the work's ids
    for (const std::string& id : work.swatches.order) {
        const auto same = std::find_if(left.begin(), left.end(),
                                       [&](const work::Swatch* s) { return sameName(s->name, work.swatches.items.at(id).name); });
        if (same == left.end())
            continue;
        taken[id] = *same;
        left.erase(same);
    }
    auto next = left.begin();
    int changed = 0;
    for (const std::string& id : work.swatches.order) {
        if (!taken.contains(id) && next != left.end())
            taken[id] = *next++;
        const auto found = taken.find(id);
        if (found == taken.end() || picture::hexFromRgb(found->second->colour) == picture::hexFromRgb(work.swatches.items.at(id).colour))
            continue;
        work::setSwatch(work, id, found->second->colour);
        ++changed;
    }
    return changed;
}

void removeSwatch(work::Work& work, const std::string& swatch)
{
    erase(work.swatches, swatch);
    for (const work::ColourUse& use : work::colourUses(work))
        if (use.swatch == swatch)
            use.swatch.clear();
}

void changeSheet(work::Work& work, const work::SheetSize& sheet, bool scale)
{
    const double before = std::min(work.sheet().widthPt(), work.sheet().heightPt()), after = std::min(sheet.widthPt(), sheet.heightPt());
    work.sheet() = sheet;
    const double factor = after / before;
    if (scale && factor != 1)
        work::grow(work, factor);
}

}  // namespace session
