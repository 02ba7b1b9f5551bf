// The finish of a work: from light to picture, and the layers over it.
#pragma once

#include <optional>

#include "base/result.h"
#include "finish/layers.h"
#include "picture/colour.h"
#include "work/ordered.h"

namespace work {

// Of a mask that is drawn by hand, see finish::Stroke.
struct Stroke {
    std::string points;  // "x,y x,y", pt from the sheet's middle, y up; as SVG writes a polyline's
    double size = 60;    // pt, across
    double softness = 0.5;
    bool erases = false;

    bool operator==(const Stroke&) const = default;
};
// What is no number ends them.
std::vector<base::Vec2> pointsOf(const std::string& points);
std::string textOf(const std::vector<base::Vec2>& points);  // to a hundredth of a pt

using LayerWhat =
    base::Variant<finish::Tone, finish::Levels, finish::Duotone, finish::Fill, finish::Halo, finish::Soften, finish::Sharpen, finish::Grain,
                  finish::Vignette, finish::PrintRaster, finish::FlatShadow, finish::Picture, finish::Lines, finish::Curves, finish::Mixer,
                  finish::Rays, finish::Particles, finish::Smoke, finish::Trail, finish::Stuff, finish::Misprint, finish::Bands,
                  finish::Print, finish::Code, finish::Lookup, finish::Flare, finish::Group, finish::Beams, Newer>;

struct Layer {
    std::string name;
    bool on = true;
    double strength = 1;
    finish::Blend blend = finish::Blend::Normal;
    finish::Acts acts = finish::Acts::Everywhere;
    std::vector<std::string> pieces;  // it acts on these alone: "p1", or of a letter "p1/a2"; none: on all
    std::vector<std::string> parts;   // and on these parts of them, as kParts names them
    bool inverted = false;
    LayerWhat what;
    std::string light;  // a lamp's or own card's id, "surroundings" or "emissive": it acts as far as light is of that; empty: of any
    double edge = 0;    // pt
    double darkest = 0, brightest = 1;  // it acts where what is below lies between
    double fades = 0, fadesTurn = 90;
    double farFrom = 0, farTo = 0;  // pt behind the aim, see finish::Mask
    finish::Lit lit = finish::Lit::Any;
    Ordered<Stroke> strokes;  // where there are some, it acts only there
    std::string group;        // id of the group that it is in

    // It is done to light, before the view transform, and is added there.
    bool isLight() const
    {
        return std::holds_alternative<finish::Halo>(what) || std::holds_alternative<finish::Rays>(what) ||
               std::holds_alternative<finish::Flare>(what) || std::holds_alternative<finish::Beams>(what);
    }

    bool operator==(const Layer&) const = default;
};

struct Finish {
    double exposure = 0;  // stops
    picture::ViewTransform viewTransform = picture::ViewTransform::TrueColour;
    Ordered<Layer> layers;  // from the lowest to the topmost

    bool operator==(const Finish&) const = default;
};

// The order in which layers are done: what is in a group right before it. A group that is none, or in a group itself, is no layer's.
std::vector<std::string> together(const Ordered<Layer>& layers);
std::string groupOf(const Ordered<Layer>& layers, const std::string& id);  // empty: in none

struct Work;

// A layer of that kind, as it usually begins: its place in Layer::what.
Layer layerOfKind(std::size_t kind);

// Layers to begin with, or to keep: lengths are those on a sheet whose longer side is `reachPt`.
struct FinishStart {
    double reachPt = 1000;
    std::vector<Layer> layers;  // from the lowest to the topmost; one in a group names it "y" and its place, from 1 on
};
// Where a lamp is seen, pt from the sheet's middle, y up, also beyond its edges; nothing behind the viewer, or where there is none.
std::optional<base::Vec2> lampOnSheet(const Work& work, const std::string& lamp);
// Over the layers that are there, or in their place; pictures, prints and codes stay, over them.
void useFinish(Work& work, const FinishStart& start, bool adds = false);
// What is said in a picture, not how it looks: it belongs to its work.
bool isContent(const Layer& layer);
// The work's own; what they say of single pieces, pictures, prints, codes and colour tables are left out.
FinishStart finishStartOf(const Work& work);

// The assets that layers show.
std::vector<std::string*> layerPicturesIn(Work& work);
// And those that are colour tables.
std::vector<std::string*> colourTablesIn(Work& work);
// Makes a .cube file part of a work, once; returns its name there. Errors: BadInput as finish::Cube::read().
base::Result<std::string> addColourTable(Work& work, const std::string& name, const std::vector<std::uint8_t>& bytes);

// It is printed over the picture by a layer, on or off, and is no body.
bool isFlat(const Work& work, const std::string& piece);

// Those that are on and known, as the finish takes them. What they name and nobody is acts nowhere.
std::vector<finish::Layer> layersOf(const Work& work);

}  // namespace work
