#include "session/arrange.h"

#include <algorithm>

#include "session/groups.h"

namespace session {

namespace {

using base::Box2;
using base::Vec2;

// Pieces that move as one, and what they cover.
struct Thing {
    std::vector<std::string> pieces;
    Box2 box;
};

Box2 boxOf(const work::WorkBodies& bodies, const std::string& piece, AlignBy by)
{
    Box2 box;
    for (const work::PiecePlace& place : bodies.places)
        if (place.id == piece && !place.box.empty()) {
            if (by == AlignBy::TypeLines && !place.block.empty()) {
                for (const double x : {place.block.low.x, place.block.high.x})
                    for (const double y : {place.block.low.y, place.block.high.y}) {
                        const base::Vec3 corner = place.pose.apply({x + place.shift.x, y + place.shift.y, 0});
                        box.add(Vec2{corner.x, corner.y});
                    }
                continue;
            }
            box.add(Vec2{place.box.low.x, place.box.low.y});
            box.add(Vec2{place.box.high.x, place.box.high.y});
        }
    return box;
}

std::vector<Thing> thingsOf(const work::Work& work, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, AlignBy by)
{
    std::vector<Thing> things;
    std::map<std::string, std::size_t> ofGroup;
    for (const std::string& piece : pieces) {
        const Box2 box = boxOf(bodies, piece, by);
        const work::Shape* plate = work.pieces.items.at(piece).shape();
        const bool follows = plate && plate->isPlate() && std::find(pieces.begin(), pieces.end(), plate->piece) != pieces.end();
        if (box.empty() || work.pieces.items.at(piece).locked || follows)
            continue;
        const std::string group = groupOf(work, piece);
        const auto known = group.empty() ? ofGroup.end() : ofGroup.find(group);
        if (known == ofGroup.end()) {
            if (!group.empty())
                ofGroup[group] = things.size();
            things.push_back({{piece}, box});
            continue;
        }
        Thing& thing = things[known->second];
        thing.pieces.push_back(piece);
        thing.box.add(box.low);
        thing.box.add(box.high);
    }
    return things;
}

void move(work::Work& work, const Thing& thing, Vec2 by)
{
    for (const std::string& piece : thing.pieces) {
        work::Placement& placement = work.pieces.items.at(piece).placement;
        placement.x += by.x;
        if (placement.stance != work::Stance::OnFloor)
            placement.y += by.y;
    }
}

// What is to be aligned to.
Box2 areaOf(const work::Work& work, const std::vector<Thing>& things, AlignTo to)
{
    if (to == AlignTo::EachOther && things.size() > 1) {
        Box2 all;
        for (const Thing& thing : things) {
            all.add(thing.box.low);
            all.add(thing.box.high);
        }
        return all;
    }
    const work::Sheet& sheet = work.shownSheet();
    const double margin = to == AlignTo::Margin ? sheet.size.toPt(sheet.size.margin) : 0;
    const Vec2 half = Vec2{sheet.size.widthPt(), sheet.size.heightPt()} * 0.5 - Vec2{margin, margin}, middle{sheet.x, sheet.y};
    return {middle - half, middle + half};
}

}  // namespace

work::Work aligned(const work::Work& start, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, Edge edge, AlignTo to,
                   AlignBy by)
{
    work::Work work = start;
    const std::vector<Thing> things = thingsOf(start, bodies, pieces, by);
    if (things.empty())
        return work;
    const Box2 area = areaOf(start, things, to);
    const Vec2 middle = (area.low + area.high) * 0.5;
    for (const Thing& thing : things) {
        const Vec2 own = (thing.box.low + thing.box.high) * 0.5;
        switch (edge) {
        case Edge::Left:
            move(work, thing, {area.low.x - thing.box.low.x, 0});
            break;
        case Edge::MiddleAcross:
            move(work, thing, {middle.x - own.x, 0});
            break;
        case Edge::Right:
            move(work, thing, {area.high.x - thing.box.high.x, 0});
            break;
        case Edge::Upper:
            move(work, thing, {0, area.high.y - thing.box.high.y});
            break;
        case Edge::MiddleUp:
            move(work, thing, {0, middle.y - own.y});
            break;
        case Edge::Lower:
            move(work, thing, {0, area.low.y - thing.box.low.y});
            break;
        }
    }
    return work;
}

work::Work distributed(const work::Work& start, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, bool across,
                       AlignBy by)
{
    work::Work work = start;
    std::vector<Thing> things = thingsOf(start, bodies, pieces, by);
    if (things.size() < 3)
        return work;
    const auto low = [across](const Thing& t) { return across ? t.box.low.x : t.box.low.y; };
    const auto high = [across](const Thing& t) { return across ? t.box.high.x : t.box.high.y; };
    std::stable_sort(things.begin(), things.end(), [&](const Thing& a, const Thing& b) { return low(a) + high(a) < low(b) + high(b); });
    double gaps = high(things.back()) - low(things.front());
    for (const Thing& thing : things)
        gaps -= high(thing) - low(thing);
    const double gap = gaps / static_cast<double>(things.size() - 1);
    double at = high(things.front()) + gap;
    for (std::size_t i = 1; i + 1 < things.size(); ++i) {
        const double missing = at - low(things[i]);
        move(work, things[i], across ? Vec2{missing, 0} : Vec2{0, missing});
        at += high(things[i]) - low(things[i]) + gap;
    }
    return work;
}

work::Work staggered(const work::Work& start, const std::vector<std::string>& pieces, double stepPt)
{
    work::Work work = start;
    std::vector<std::string> moved;
    for (const std::string& id : start.pieces.order)
        if (std::find(pieces.begin(), pieces.end(), id) != pieces.end() && !start.pieces.items.at(id).locked)
            moved.push_back(id);
    double z = 0;
    for (auto id = moved.rbegin(); id != moved.rend(); ++id) {
        work::Placement& p = work.pieces.items.at(*id).placement;
        const double now = p.stance == work::Stance::AgainstWall ? -start.ground.wallBehind : p.z;
        z = id == moved.rbegin() ? now : z + stepPt;
        if (p.stance == work::Stance::AgainstWall && z != now)
            p.stance = work::Stance::Free;
        if (p.stance != work::Stance::AgainstWall)
            p.z = z;
    }
    return work;
}

work::Work sameSize(const work::Work& start, const work::WorkBodies& bodies, const std::vector<std::string>& pieces, bool width)
{
    work::Work work = start;
    const auto sizeOf = [&](const std::string& piece) {
        const Box2 box = boxOf(bodies, piece, AlignBy::Outline);
        return box.empty() ? 0 : width ? box.high.x - box.low.x : box.high.y - box.low.y;
    };
    const double wanted = pieces.empty() ? 0 : sizeOf(pieces.back());
    if (wanted <= 0)
        return work;
    for (const std::string& id : pieces) {
        work::Piece& piece = work.pieces.items.at(id);
        if (const double size = sizeOf(id); size > 0 && !piece.locked && id != pieces.back()) {
            if (work::Lettering* lettering = piece.lettering())
                lettering->fits = false;
            work::scaleTo(piece, piece.sizePt() * wanted / size);
        }
    }
    return work;
}

}  // namespace session
