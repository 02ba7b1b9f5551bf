#include "work/starts.h"

#include <algorithm>

namespace work {

namespace {

Rgb rgb(const char* hex)
{
    return *picture::rgbFromHex(hex);
}

// The word on its sheet, in these colours.
Work withWord(const SheetSize& sheet, const char* lettering, const char* ground)
{
    Work work = newWork(kStartWord, {}, sheet);
    Piece& piece = work.pieces.items.begin()->second;
    piece.lettering()->font.style = "Black";
    piece.lettering()->fits = true;
    scaleTo(piece, std::min(sheet.heightPt() * 0.6, sheet.widthPt() / 2.6));
    piece.material.piece.baseColour = rgb(lettering);
    work.ground.wall.baseColour = work.ground.floor.baseColour = work.ground.backdrop = rgb(ground);
    return work;
}

Piece& word(Work& work)
{
    return work.pieces.items.begin()->second;
}

Light& firstLight(Work& work)
{
    return work.lights.items.begin()->second;
}

void addLamp(Work& work, light::LightKind kind, double direction, double height, const char* colour, double stops)
{
    Light lamp = firstLight(work);
    lamp.kind = kind;
    lamp.direction = direction;
    lamp.height = height;
    lamp.colour = rgb(colour);
    lamp.stops = stops;
    work.lights.add(work.newId("l"), lamp);
}

// Standing letters in low light, long shadows.
Work eveningSun(const SheetSize& sheet)
{
    Work work = withWord(sheet, "#F0644B", "#E9D3A8");
    const double size = word(work).sizePt();
    work.ground.kind = render::GroundKind::Sweep;
    work.ground.wall.baseColour = work.ground.backdrop = rgb("#D5EBDA");
    work.ground.floorBelow = 0.36 * size;
    work.ground.wallBehind = 1.6 * size;
    work.ground.sweep = 1.2 * size;
    word(work).placement.stance = Stance::OnFloor;
    word(work).slab()->depthPt = 0.3 * size;
    work.view() = {true, 50, -16, 12, 0, 0, 0, 0.1 * size, 1.02};
    Light& sun = firstLight(work);
    sun.kind = light::LightKind::Sun;
    sun.direction = -64;
    sun.height = 20;
    sun.sunSize = 1.5;
    sun.colour = rgb("#FFDDB0");
    sun.stops = 0.9;
    work.surroundings.colour = rgb("#CFE3EE");
    work.surroundings.stops = -1;
    return work;
}

// Shape by light alone.
Work whiteOnWhite(const SheetSize& sheet)
{
    Work work = withWord(sheet, "#FFFFFF", "#FFFFFF");
    word(work).material.piece.roughness = 0.6f;
    word(work).slab()->depthPt = 0.16 * word(work).sizePt();
    Light& lamp = firstLight(work);
    lamp.direction = -62;
    lamp.height = 46;
    lamp.stops = -0.4;
    work.surroundings.stops = -1.2;
    return work;
}

// Polished gold between lamps of four colours.
Work fourLamps(const SheetSize& sheet)
{
    Work work = withWord(sheet, "#E3AE45", "#20222B");
    const double size = word(work).sizePt();
    Material& gold = word(work).material.piece;
    gold.metallic = 1;
    gold.roughness = 0.22f;
    work.ground.kind = render::GroundKind::Floor;
    work.ground.floorBelow = 0.36 * size;
    work.ground.floor.roughness = 0.35f;
    work.ground.floor.specular = 1;
    word(work).placement.stance = Stance::OnFloor;
    work.view() = {true, 60, 8, 7, 0, 0, 0, 0, 1.04};
    Light& key = firstLight(work);
    key.direction = -24;
    key.height = 16;
    key.colour = rgb("#FFF2DC");
    key.stops = 0.8;
    addLamp(work, light::LightKind::Softbox, 78, 22, "#FF5A3C", 1);
    addLamp(work, light::LightKind::Softbox, -96, 18, "#3C7BFF", 1.2);
    addLamp(work, light::LightKind::Softbox, 170, 50, "#FFC24B", 1);
    work.surroundings.colour = rgb("#C9D6F0");
    work.surroundings.stops = -2.4;
    return work;
}

// Seen along the corner of a cube, in flat colours: face, side and bevel.
Work isometric(const SheetSize& sheet)
{
    Work work = withWord(sheet, "#F4EFD9", "#3B4BA3");
    Piece& piece = word(work);
    piece.slab()->depthPt = 0.5 * piece.sizePt();
    piece.slab()->front = {};
    Material side = piece.material.piece;
    side.baseColour = rgb("#E8664F");
    piece.material.parts["side"] = side;
    work.view().walk = -45;
    work.view().rise = 35.264;  // atan(1 / sqrt 2): the three edges of a cube are equally long
    work.view().frame = 1;
    Light& sun = firstLight(work);
    sun.kind = light::LightKind::Sun;
    sun.sunSize = 14;
    sun.direction = -20;
    sun.height = 52;
    sun.stops = 0;
    return work;
}

// Linked copies behind the word, each larger and darker.
Work stack(const SheetSize& sheet)
{
    Work work = withWord(sheet, "#FFF4E4", "#0F7C82");
    Piece& piece = word(work);
    const double size = piece.sizePt();
    piece.slab()->depthPt = 0.05 * size;
    piece.copies = {5, 0, 0.022 * size, 0.05 * size, 0, rgb("#E8664F"), 0.3};
    work.ground.wallBehind = 0.32 * size;
    piece.placement.stance = Stance::Free;
    Light& lamp = firstLight(work);
    lamp.direction = -48;
    lamp.height = 50;
    return work;
}

}  // namespace

const Start kStartList[kStarts] = {{"sun", "Evening sun", eveningSun},
                                   {"white", "White on white", whiteOnWhite},
                                   {"lamps", "Gold, four lamps", fourLamps},
                                   {"isometric", "Isometric", isometric},
                                   {"stack", "Linked stack", stack}};

}  // namespace work
