// The document: plain values, cheap to copy, compared by ==. docs/format.md says how it is kept in a file.
//
// Lengths are pt, angles degrees (this is the surface people see), colours linear sRGB, brightness in stops. The origin is
// the middle of the sheet, which lies in z = 0; y is up.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "outline/font.h"
#include "outline/layout.h"
#include "picture/colour.h"
#include "render/render.h"
#include "solid/form.h"

namespace work {

using base::Rgb;

enum class Unit { Px, Mm, In, Pt };

struct Sheet {
    double width = 1920, height = 1080;  // in `unit`
    Unit unit = Unit::Px;
    double ppi = 72;
    double margin = 0;  // kept free along the edges, in `unit`; pieces snap to it

    bool operator==(const Sheet&) const = default;
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

    bool operator==(const Lettering&) const = default;
    std::vector<std::string> newLetterIds(std::size_t count);  // that no letter has
};

// A material whose base colour may follow a swatch. The colour is always filled in; setSwatch() keeps it up to date.
struct Material : surface::Material {
    std::string swatch;  // id in Work::swatches, or ""

    bool operator==(const Material&) const = default;
};

struct MaterialSet {
    Material piece;
    std::map<solid::Part, Material> parts;  // where a part differs

    bool operator==(const MaterialSet&) const = default;
    const Material& of(solid::Part part) const
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
    std::optional<solid::SlabForm> form;
    std::optional<MaterialSet> material;
    double x = 0, y = 0, z = 0;  // moved on the piece's plane and out of it
    double roll = 0;             // about the letter's middle, counter-clockwise

    bool operator==(const LetterOwn&) const = default;
    bool isPosed() const { return x != 0 || y != 0 || z != 0 || roll != 0; }
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
    Lettering lettering;
    solid::SlabForm form;
    MaterialSet material;
    Placement placement;
    std::map<std::string, LetterOwn> letters;  // by letter id; letters without an entry are like the piece
    Copies copies;

    bool operator==(const Piece&) const = default;
    const solid::SlabForm& formOf(const std::string& letter) const;
    const MaterialSet& materialOf(const std::string& letter) const;
};

struct Ground {
    render::GroundKind kind = render::GroundKind::Wall;
    double wallBehind = 0;  // of the wall behind the sheet's plane
    double floorBelow = 0;  // of the floor below the sheet's middle
    double sweep = 300;     // radius of the bend
    Material wall{{{0.8f, 0.8f, 0.8f}, 0, 0.9f, 0}, {}};
    Material floor{{{0.8f, 0.8f, 0.8f}, 0, 0.9f, 0}, {}};
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
    double aimX = 0, aimY = 0, aimZ = 0;  // the point the frame's middle shows
    double frame = 1;                     // width of what is seen at the aim, in sheet widths

    bool operator==(const View&) const = default;
};

struct Light {
    std::string name;
    light::LightKind kind = light::LightKind::Softbox;
    bool on = true;
    double direction = -40;             // where it comes from, round the lettering: 0 from the viewer, 90 from the right
    double height = 45;                 // and over it, -90 to 90
    double distance = 1500;             // of softbox, bulb and spot from the sheet's middle
    double width = 800, breadth = 800;  // softbox
    double size = 40;                   // diameter of bulb and spot
    double sunSize = 0.53;              // diameter of a sun as seen; the real one's is the usual value
    double cone = 40, fade = 10;        // spot: full angle of its cone, and how much of it fades
    Rgb colour{1, 1, 1};
    std::string swatch;
    double stops = 0;  // 0: a white card at the sheet's middle, square to it, is 1.0

    bool operator==(const Light&) const = default;
    Rgb factor() const;  // colour times brightness
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

// Things with ids in an order of their own.
template <class T>
struct Ordered {
    std::map<std::string, T> items;
    std::vector<std::string> order;

    bool operator==(const Ordered&) const = default;
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

struct Work {
    Sheet sheet;
    Ordered<Piece> pieces;
    Ground ground;
    View view;
    bool viewLocked = false;  // not changed by hand in the picture
    Ordered<SavedView> views;
    Ordered<Swatch> swatches;
    Surroundings surroundings;
    Emissive emissive;
    Ordered<Light> lights;
    Finish finish;
    render::StopRule final{1024, 0, 1.5};  // when clean
    std::map<std::string, Asset> assets;   // fonts; and finished pictures that are kept in the work, see isKeptPicture()
    std::vector<std::string> meantSo;      // notices that were silenced, as noticeKey() names them
    int nextId = 1;
    std::string kept;  // what a newer version wrote and this one does not know, as JSON; saved again

    bool operator==(const Work&) const = default;
    std::string newId(const std::string& prefix);  // one that no thing has
};

// Whether an asset of this name is a finished picture's light, to be mixed again: "kept/<title>.exr".
inline constexpr const char* kKeptFolder = "kept/";
bool isKeptPicture(const std::string& asset);

// A piece with this text on a sheet, against a wall, lit by a softbox and plain surroundings.
Work newWork(const std::string& text, const FontChoice& font, const Sheet& sheet);

// The same without a piece.
Work emptyWork(const Sheet& sheet);

// Sets the size of the type; depth and bevels grow with it.
void scaleTo(Piece& piece, double sizePt);

// Replaces bytes [begin, begin + removed) of the text, widened to whole characters, by `added`. Letters outside keep their ids and
// what they have of their own; with an accent that joins a letter, that letter keeps its own.
void editText(Piece& piece, std::size_t begin, std::size_t removed, const std::string& added);

// Replaces a text whole: what differs is found by comparing from both ends, and edited.
void setText(Piece& piece, const std::string& text);

// The least nextId that gives no id again.
int leastNextId(const Work& work);

// Changes a swatch and every colour that follows it.
void setSwatch(Work& work, const std::string& id, Rgb colour);

// Names a notice for Work::meantSo.
std::string noticeKey(const base::Note& note);

}  // namespace work
