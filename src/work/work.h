// The document: plain values, cheap to copy, compared by ==. docs/format.md says how it is kept in a file.
//
// Lengths are pt, angles degrees (this is the surface people see), colours linear sRGB, brightness in stops. The origin is
// the middle of the sheet, which lies in z = 0; y is up.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "light/kind.h"
#include "outline/font.h"
#include "outline/layout.h"
#include "picture/colour.h"
#include "render/ground_kind.h"
#include "render/stop_rule.h"
#include "solid/body.h"
#include "solid/form.h"

namespace work {

using base::Rgb;

// Things with ids in an order of their own.
template <class T>
struct Ordered {
    std::map<std::string, T> items;
    std::vector<std::string> order;

    bool operator==(const Ordered&) const = default;
    void add(const std::string& id, T item)
    {
        items[id] = std::move(item);
        order.push_back(id);
    }
};

// Something of a kind that a newer version made and this one does not know. It is kept as it was read and saved again; it is in the
// lists, but not in the picture.
struct Newer {
    std::string kind;
    std::string json;  // the object, without the values that are known

    bool operator==(const Newer&) const = default;
};

// A place in a work: a piece, one of its letters, a part of that. What is empty is meant whole.
struct Address {
    std::string piece;
    std::string letter = {};
    std::string part = {};

    bool operator==(const Address&) const = default;
};

enum class Unit { Px, Mm, In, Pt };

struct SheetSize {
    double width = 1920, height = 1080;  // in `unit`
    Unit unit = Unit::Px;
    double ppi = 72;
    double margin = 0;  // kept free along the edges, in `unit`; pieces snap to it

    bool operator==(const SheetSize&) const = default;
    double widthPt() const { return toPt(width); }
    double heightPt() const { return toPt(height); }
    int widthPx() const { return toPx(width); }
    int heightPx() const { return toPx(height); }
    double toPt(double length) const;
    int toPx(double length) const;  // at least 1
};

struct FontChoice {
    std::string family = "League Spartan";
    std::string style;       // "" is the family's regular one
    std::string asset;       // key of Work::assets, or "": found on this machine by family and style
    int index = 0;           // face in the asset
    std::string variations;  // "wght=800,wdth=90"

    bool operator==(const FontChoice&) const = default;
};

struct Lettering {
    std::string text;
    FontChoice font;
    outline::LayoutSettings layout;
    std::vector<std::string> letterIds;  // one for each grapheme of the text, unique in the piece, kept by edits
    int nextLetter = 1;
    bool fits = false;  // as large as its sheet allows, also when the text changes

    bool operator==(const Lettering&) const = default;
    std::vector<std::string> newLetterIds(std::size_t count);  // that no letter has
};

// One shape of an artwork.
struct ArtShape {
    std::string shape;  // its id in the drawing
    std::string name;   // as the artwork calls it
    Rgb colour;         // as it is painted there

    bool operator==(const ArtShape&) const = default;
};

// Shapes from a file of somebody else's: see files/artwork.h.
struct Artwork {
    std::string name;          // of the file
    std::string path;          // where it was read from, or ""
    std::string original;      // key of Work::assets: the file as it was
    std::string drawing;       // key of Work::assets: its shapes, see outline/drawing.h
    int page = 1;              // of a PDF
    double heightPt = 100;     // of the page, as it is placed
    Ordered<ArtShape> shapes;  // from the lowest to the topmost; their ids are the piece's letters
    int nextShape = 1;

    bool operator==(const Artwork&) const = default;
};

// What the outlines of a piece are made from.
using Source = std::variant<Lettering, Artwork, Newer>;

// Outlines grown, with round corners; negative: thinned.
struct Grow {
    double by = 0;

    bool operator==(const Grow&) const = default;
};

// A step on the outlines, one after the other, before they become a form.
struct OutlineStep {
    bool on = true;
    std::variant<Grow, Newer> what;

    bool operator==(const OutlineStep&) const = default;
};

// What the outlines become.
using Form = std::variant<solid::SlabForm, Newer>;

double depthOf(const Form& form);  // pt, from front to back

// The values are those of surface/material.h. The base colour may follow a swatch; it is always filled in, setSwatch() keeps it up to date.
struct Material {
    Rgb baseColour{0.8f, 0.8f, 0.8f};
    float metallic = 0, roughness = 0.5f, specular = 1, emission = 0;
    std::string swatch;  // id in Work::swatches, or ""

    bool operator==(const Material&) const = default;
};

// Parts are named as kParts says; others come from newer versions.
struct MaterialSet {
    Material piece;
    std::map<std::string, Material, std::less<>> parts;  // where a part differs

    bool operator==(const MaterialSet&) const = default;
    const Material& of(std::string_view part) const
    {
        const auto found = parts.find(part);
        return found == parts.end() ? piece : found->second;
    }
};

enum class Stance { AgainstWall, OnFloor, Free };

struct Placement {
    Stance stance = Stance::AgainstWall;
    double x = 0, y = 0;  // middle of the lettering on the sheet; on the floor y follows from it
    double z = 0;         // of the back: before the sheet's plane; against the wall it is the wall's
    double turn = 0;      // about the upright axis; not against the wall
    double tilt = 0;      // about the level axis, top towards the viewer; only free
    double roll = 0;      // in its own plane, counter-clockwise; not on the floor

    bool operator==(const Placement&) const = default;
};

// What one letter has of its own. A letter with a form or a place of its own is a body of its own.
struct LetterOwn {
    std::optional<Form> form;
    std::optional<MaterialSet> material;
    double x = 0, y = 0, z = 0;  // moved on the piece's plane and out of it
    double roll = 0;             // about the letter's middle, counter-clockwise
    double turn = 0;             // about its upright axis, to the right
    double tilt = 0;             // about its level axis, top towards the viewer
    double scale = 1;            // of its outline, about its middle; its form stays

    bool operator==(const LetterOwn&) const = default;
    bool isPosed() const { return x != 0 || y != 0 || z != 0 || roll != 0 || turn != 0 || tilt != 0 || scale != 1; }
};

// Copies that follow the piece, each a step further than the one before.
struct Copies {
    int count = 0;
    double depthStep = 0;  // deeper by; negative: flatter
    double growth = 0;     // outline grown outwards by, with round corners, >= 0
    double back = 0;       // moved away from the viewer by
    double turn = 0;       // in the piece's plane, counter-clockwise
    Rgb tint{1, 1, 1};
    double tintShare = 0;  // colours mixed with the tint by, 0 to 1

    bool operator==(const Copies&) const = default;
};

struct Piece {
    std::string name;
    bool hidden = false;
    bool locked = false;  // not moved or chosen by hand in the picture
    std::string group;    // id in Work::groups, or ""
    Source source;
    Ordered<OutlineStep> steps;
    Form form;
    MaterialSet material;
    Placement placement;
    std::map<std::string, LetterOwn> letters;  // by letter id; letters without an entry are like the piece
    Copies copies;

    bool operator==(const Piece&) const = default;
    // nullptr when the piece is made from something else, or becomes something else.
    Lettering* lettering() { return std::get_if<Lettering>(&source); }
    const Lettering* lettering() const { return std::get_if<Lettering>(&source); }
    solid::SlabForm* slab() { return std::get_if<solid::SlabForm>(&form); }
    const solid::SlabForm* slab() const { return std::get_if<solid::SlabForm>(&form); }
    Artwork* artwork() { return std::get_if<Artwork>(&source); }
    const Artwork* artwork() const { return std::get_if<Artwork>(&source); }
    const std::vector<std::string>& letterIds() const;  // of a lettering, or the shapes of an artwork; none of anything else
    double sizePt() const;                              // of the type; lengths usual for a piece are shares of it

    const Form& formOf(const std::string& letter) const;
    const MaterialSet& materialOf(const std::string& letter) const;
};

// Pieces that are chosen and moved together.
struct Group {
    std::string name;

    bool operator==(const Group&) const = default;
};

struct Ground {
    render::GroundKind kind = render::GroundKind::Wall;
    double wallBehind = 0;  // of the wall behind the sheet's plane
    double floorBelow = 0;  // of the floor below the sheet's middle
    double sweep = 300;     // radius of the bend
    Material wall{{0.8f, 0.8f, 0.8f}, 0, 0.9f, 0, 0, {}};
    Material floor{{0.8f, 0.8f, 0.8f}, 0, 0.9f, 0, 0, {}};
    Rgb backdrop{1, 1, 1};  // seen where nothing is hit: without ground and beyond the horizon
    std::string backdropSwatch;

    bool operator==(const Ground&) const = default;
};

struct View {
    bool perspective = false;
    double focalLength = 50;  // mm on a frame 36 mm wide
    double walk = 0;          // round the lettering, to the right
    double rise = 0;          // over it, -89 to 89
    double roll = 0;
    double aimX = 0, aimY = 0, aimZ = 0;  // the point the frame's middle shows, from the sheet's middle
    double frame = 1;                     // width of what is seen at the aim, in sheet widths

    bool operator==(const View&) const = default;
};

struct Light {
    std::string name;
    light::LightKind kind = light::LightKind::Softbox;
    bool on = true;
    double direction = -40;             // where it comes from, round the lettering: 0 from the viewer, 90 from the right
    double height = 45;                 // and over it, -90 to 90
    double distance = 1500;             // of softbox, bulb and spot from the origin
    double width = 800, breadth = 800;  // softbox
    double size = 40;                   // diameter of bulb and spot
    double sunSize = 0.53;              // diameter of a sun as seen; the real one's is the usual value
    double cone = 40, fade = 10;        // spot: full angle of its cone, and how much of it fades
    Rgb colour{1, 1, 1};
    std::string swatch;
    double stops = 0;            // 0: a white card at the origin, square to it, is 1.0
    std::optional<Newer> newer;  // of a kind this version does not know; then only name and `on` are

    bool operator==(const Light&) const = default;
    Rgb factor() const;  // colour times brightness
    bool shines() const { return on && !newer; }
};

struct Surroundings {
    bool on = true;
    Rgb colour{1, 1, 1};
    std::string swatch;
    double stops = -1.6;

    bool operator==(const Surroundings&) const = default;
    Rgb factor() const;
};

// The light of all materials that give some off, at the desk.
struct Emissive {
    Rgb colour{1, 1, 1};
    double stops = 0;

    bool operator==(const Emissive&) const = default;
    Rgb factor() const;
};

struct Finish {
    double exposure = 0;  // stops
    picture::ViewTransform viewTransform = picture::ViewTransform::TrueColour;

    bool operator==(const Finish&) const = default;
};

// A file that travels with the work.
struct Asset {
    outline::SharedBytes bytes;
    std::string licence;  // as far as known

    std::string contents() const;  // names the bytes, see base::contentName()

    bool operator==(const Asset& o) const { return licence == o.licence && (bytes == o.bytes || (bytes && o.bytes && *bytes == *o.bytes)); }
};

// A colour with a name. What follows it changes with it.
struct Swatch {
    std::string name;
    Rgb colour{0.8f, 0.8f, 0.8f};

    bool operator==(const Swatch&) const = default;
};

struct SavedView {
    std::string name;
    View view;

    bool operator==(const SavedView&) const = default;
};

enum class FileFormat { Png8, Png16, Exr };

// A file that is made of a sheet.
struct Output {
    std::string name;
    FileFormat format = FileFormat::Png8;
    int widthPx = 0;  // 0: the sheet's own
    bool transparent = false;
    bool denoise = true;
    render::StopRule stop{1024, 0, 1.5};  // when clean

    bool operator==(const Output&) const = default;
};

// A piece moved on one sheet alone.
struct Shift {
    double x = 0, y = 0, z = 0;

    bool operator==(const Shift&) const = default;
};

// A picture that is taken of the work: its area, where its middle lies in the world, the camera, and the files it becomes.
struct Sheet {
    std::string name;
    SheetSize size;
    double x = 0, y = 0;  // of its middle, from the origin
    View view;
    std::map<std::string, Shift> shifts;  // by piece
    Ordered<Output> outputs;              // the first is what the Export section makes

    bool operator==(const Sheet&) const = default;
};

struct Work {
    Ordered<Sheet> sheets;      // at least one
    std::string shown = "sh1";  // the sheet that is worked on and rendered
    Ordered<Piece> pieces;
    Ordered<Group> groups;
    Ground ground;
    bool viewLocked = false;  // not changed by hand in the picture
    Ordered<SavedView> views;
    Ordered<Swatch> swatches;
    Surroundings surroundings;
    Emissive emissive;
    Ordered<Light> lights;
    Finish finish;
    std::map<std::string, Asset> assets;  // fonts; and finished pictures that are kept in the work, see isKeptPicture()
    std::vector<std::string> meantSo;     // notices that were silenced, as noticeKey() names them
    int nextId = 1;
    std::string kept;  // what a newer version wrote and this one does not know, as JSON; saved again

    Work();  // with an empty sheet and its output
    bool operator==(const Work&) const = default;

    // Of the sheet that is shown.
    Sheet& shownSheet() { return sheets.items.at(shown); }
    const Sheet& shownSheet() const { return sheets.items.at(shown); }
    SheetSize& sheet() { return shownSheet().size; }
    const SheetSize& sheet() const { return shownSheet().size; }
    View& view() { return shownSheet().view; }
    const View& view() const { return shownSheet().view; }
    Output& output() { return shownSheet().outputs.items.at(shownSheet().outputs.order.front()); }
    const Output& output() const { return shownSheet().outputs.items.at(shownSheet().outputs.order.front()); }
    // Where a piece stands on it.
    Placement placementOf(const std::string& piece) const;
    std::string newId(const std::string& prefix);  // one that no thing has
};

// Whether an asset of this name is a finished picture's light, to be mixed again: "kept/<title>.exr".
inline constexpr const char* kKeptFolder = "kept/";
bool isKeptPicture(const std::string& asset);

// A piece with this text on a sheet, against a wall, lit by a softbox and plain surroundings.
Work newWork(const std::string& text, const FontChoice& font, const SheetSize& sheet);

// The same without a piece; evenly lit, in one of a few pairs of colours, counted from 0.
inline constexpr int kColourPairs = 6;
Work emptyWork(const SheetSize& sheet, int colours = 0);
// What lettering is coloured at first: what goes with the ground, where that is one of the pairs.
Rgb colourOnGround(const Work& work);

// "KITE FAIR", or of a long text its beginning, or the name; never empty.
std::string titleOf(const Piece& piece);

// Sets the size of a lettering's type; steps, depth and bevels grow with it.
void scaleTo(Piece& piece, double sizePt);

// Replaces bytes [begin, begin + removed) of a lettering's text, widened to whole characters, by `added`. Letters outside keep their ids
// and what they have of their own; with an accent that joins a letter, that letter keeps its own.
void editText(Piece& piece, std::size_t begin, std::size_t removed, const std::string& added);

// Replaces a lettering's text whole: what differs is found by comparing from both ends, and edited.
void setText(Piece& piece, const std::string& text);

// The least nextId that gives no id again.
int leastNextId(const Work& work);

// Changes a swatch and every colour that follows it.
void setSwatch(Work& work, const std::string& id, Rgb colour);

// Names a notice for Work::meantSo.
std::string noticeKey(const base::Note& note);

}  // namespace work
