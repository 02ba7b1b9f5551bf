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
#include <vector>

#include "base/variant.h"
#include "light/kind.h"
#include "light/panorama.h"
#include "outline/bend.h"
#include "outline/font.h"
#include "outline/layout.h"
#include "outline/steps.h"
#include "outline/trace.h"
#include "picture/colour.h"
#include "picture/temperature.h"
#include "render/ground_kind.h"
#include "render/stop_rule.h"
#include "solid/body.h"
#include "solid/form.h"
#include "surface/cover.h"
#include "work/finish.h"

namespace work {

using base::Rgb;

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

using outline::LinePoint;

// A point of one of two lines, in shares of the lettering's box: across from its left, up from its last baseline.
struct SharePoint : LinePoint {
    bool operator==(const SharePoint&) const = default;
};

// A line drawn by hand on the piece's plane, seen from the piece's place; pt.
struct DrawnLine {
    Ordered<LinePoint> points;
    bool closed = false;

    bool operator==(const DrawnLine&) const = default;
};

enum class RunKind { Straight, Arc, Circle, Ellipse, Spiral, Drawn, Artwork, TwoLines };
enum class Side { Over, Under };

// What lines of lettering run along: straight, along a line, or bent between two lines. Values of other kinds stay.
struct Run {
    RunKind kind = RunKind::Straight;
    double bend = 90;                  // arc: degrees from the first letter to the last; negative: hanging down
    double width = 400, height = 300;  // pt: diameter of circle, ellipse and spiral
    double turns = 2;                  // of the spiral
    double inner = 0.4;                // of the spiral's width: where it begins
    DrawnLine line;
    std::string piece, shape;  // artwork: whose outline it is, and the letter of it; "": its largest
    Side side = Side::Over;
    double start = 0;        // shifted along the line, a share of it
    bool backwards = false;  // along the line from its end
    bool upright = false, fill = false;
    outline::LineStart lines = outline::LineStart::Hill;
    double amount = 0.6;  // of two lines: in heights of the lettering; of drawn ones how much of them
    bool eachLine = false;
    Ordered<SharePoint> top, bottom;  // drawn by hand; empty: as `lines` says
    std::optional<Newer> newer;       // of a kind this version does not know

    bool operator==(const Run&) const = default;
    bool isStraight() const { return newer || kind == RunKind::Straight || (kind == RunKind::TwoLines && amount == 0); }
    bool isAlong() const { return !isStraight() && kind != RunKind::TwoLines; }
    // Round a middle of its own instead of where straight lines would be.
    bool hasOwnMiddle() const { return isAlong() && kind != RunKind::Arc; }
    bool isBetween() const { return !isStraight() && kind == RunKind::TwoLines; }
};

struct Lettering {
    std::string text;
    FontChoice font;
    outline::LayoutSettings layout;
    Run run;
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
    std::string name;      // of the file
    std::string path;      // where it was read from, or ""
    std::string original;  // key of Work::assets: the file as it was
    std::string drawing;   // key of Work::assets: its shapes, see outline/drawing.h
    int page = 1;          // of a PDF
    std::string greys;     // key of Work::assets: a picture's greys, of which `drawing` was traced; see outline/trace.h
    outline::TraceSettings trace;
    double heightPt = 100;     // of the page, as it is placed
    Ordered<ArtShape> shapes;  // from the lowest to the topmost; their ids are the piece's letters
    int nextShape = 1;

    bool operator==(const Artwork&) const = default;
    bool isTraced() const { return !greys.empty(); }
};

enum class ShapeKind { Rectangle, Ellipse, Ring, Polygon, Star, Drawn, Plate };

// A shape of our own, its middle at the piece's place. A plate goes with another piece: its outlines are that one's, grown, and its
// placement is seen from that one's.
struct Shape {
    ShapeKind kind = ShapeKind::Rectangle;
    double width = 200, height = 200;  // pt
    double round = 0;                  // radius of corners
    int points = 5;                    // of polygon and star
    double inner = 0.5;                // of ring and star: the inner width, a share of the outer
    DrawnLine line;                    // drawn with the pen; pt from the piece's place
    double stroke = 10;                // of an open line: how wide it is
    std::string piece;                 // plate: round which it goes
    std::vector<std::string> letters;  // and round which letters of it; none: all
    double margin = 10;                // how far it reaches beyond them
    double rim = 0;                    // of the plate only a rim this wide is left, round the margin; 0: all of it
    bool fillsHoles = true;            // of the letters, and between them
    bool behind = true;                // its front lies on the back of that piece; else both stand on one plane

    bool operator==(const Shape&) const = default;
    bool isPlate() const { return kind == ShapeKind::Plate; }
};

// The one letter of a shape.
inline constexpr const char* kShapeLetter = "a1";

// What the outlines of a piece are made from.
using Source = base::Variant<Lettering, Artwork, Shape, Newer>;

// Outlines grown, with round corners; negative: thinned.
struct Grow {
    double by = 0;

    bool operator==(const Grow&) const = default;
};

struct RoundCorners {
    double radius = 0;

    bool operator==(const RoundCorners&) const = default;
};

// With the outlines of another piece, as both stand on the sheet; without one, uniting joins the piece's own letters.
struct Combine {
    outline::How how = outline::How::Subtract;
    std::string piece;

    bool operator==(const Combine&) const = default;
};

// Cut apart along a line: what lies on its right becomes segments, letters of their own named "<letter>-<step>".
struct Cut {
    std::string letter;  // the line goes with it; "": with the piece
    DrawnLine line;      // from the letter's origin, or the piece's place
    double gap = 2;

    bool operator==(const Cut&) const = default;
};

// Part of the outlines pushed along, softly.
struct Push {
    std::string letter;  // as a cut's
    double x = 0, y = 0, byX = 0, byY = 0;
    double radius = 50;

    bool operator==(const Push&) const = default;
};

struct Mirror {
    bool across = true;  // left and right change places about the piece's middle; else top and bottom

    bool operator==(const Mirror&) const = default;
};

using StepWhat = base::Variant<Grow, RoundCorners, Combine, Cut, Push, Mirror, Newer>;

// A step on the outlines, one after the other, before they become a form.
struct OutlineStep {
    bool on = true;
    StepWhat what;
    std::vector<std::string> letters = {};  // it is taken on these and their segments; empty: on all. Cuts and pushes know their own letter

    bool operator==(const OutlineStep&) const = default;
};

// What a cut makes of a letter: "a3-g5", then "a3-g5-2" and so on where it makes several.
inline constexpr int kMostSegments = 4;
std::string segmentOf(const std::string& letter, const std::string& step, int number);
// The letter a segment was cut from; a letter itself.
std::string letterOf(const std::string& segment);

// What the outlines become.
using Form = base::Variant<solid::SlabForm, solid::DomedForm, solid::TubeForm, solid::BlockForm, Newer>;

double depthOf(const Form& form);  // pt, from front to back; of a dome without its rise
void setDepth(Form& form, double depthPt);
// What happens along its depth; nullptr in forms that have no such thing.
solid::Along* alongOf(Form& form);
const solid::Along* alongOf(const Form& form);
// A form of the kind with this place in Form, as it usually begins for type of this size; depth and what happens along it are kept.
Form formOfKind(const Form& from, std::size_t kind, double sizePt);

// Pictures laid on a material as surface/cover.h says: keys of Work::assets, or "".
struct Pictures {
    std::string colour, roughness, metallic, relief, cutOut, light;
    surface::PictureLies lies = surface::PictureLies::Wrapped;
    double widthPt = 200;  // each is as high as that makes it
    double turn = 0;       // degrees, counter-clockwise
    double x = 0, y = 0;   // of the middle of one of them, from the middle of the piece or letter
    surface::PictureEdges edges = surface::PictureEdges::Repeat;
    double reliefPt = 1;
    bool normals = false;  // the pictures of relief and coat are normal maps
    std::string coat;

    bool operator==(const Pictures&) const = default;
    bool any() const;
};

// The values are those of surface/material.h and surface/pattern.h. The base colour may follow a swatch; it is always filled in,
// setSwatch() keeps it up to date.
struct Material {
    Rgb baseColour{0.8f, 0.8f, 0.8f};
    float metallic = 0, roughness = 0.5f, specular = 1, emission = 0;
    std::string swatch;  // id in Work::swatches, or ""
    Rgb specularColour{1, 1, 1};
    float ior = 1.5f, clearcoat = 0, clearcoatRoughness = 0.1f;
    Rgb sheenColour{0, 0, 0};
    float sheenRoughness = 0.5f;
    float transmission = 0, translucency = 0;
    bool solid = true;                 // what light goes through is full of it; else a thin wall
    Rgb attenuationColour{1, 1, 1};    // left of white light after so many pt of it
    double attenuationDistancePt = 0;  // 0: nothing is taken away
    surface::PatternKind pattern = surface::PatternKind::None;
    double patternSizePt = 20;
    float patternStrength = 1, patternRelief = 1;
    double patternTurn = 0;  // degrees, counter-clockwise
    int patternSeed = 0;
    Rgb patternColour{0.2f, 0.2f, 0.2f};
    Pictures pictures;
    float clearcoatRelief = 0;
    float anisotropy = 0;
    double anisotropyRotation = 0;  // degrees, counter-clockwise
    float iridescence = 0, iridescenceIor = 1.3f;
    double iridescenceThicknessNm = 400;

    bool operator==(const Material&) const = default;
    bool letsThrough() const { return transmission > 0 || translucency > 0; }
};

// Parts are named as kParts says; others come from newer versions.
struct MaterialSet {
    Material piece;
    std::map<std::string, Material, std::less<>> parts;  // where a part differs

    bool operator==(const MaterialSet&) const = default;
    // An inlay without one looks like the face, its rim and the risers of terraces like the bevel.
    const Material& of(std::string_view part) const
    {
        if (const auto found = parts.find(part); found != parts.end())
            return found->second;
        return part == "inlay" ? of("face") : part == "rim" || part == "riser" ? of("frontBevel") : piece;
    }
};

enum class BackdropKind { Colour, Gradient, Surroundings, Picture };

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
    double space = 0;                     // after it, in thousandths of an em: kerning by hand
    double x = 0, y = 0, z = 0;           // moved on the piece's plane and out of it
    double roll = 0;                      // about the letter's middle, counter-clockwise
    double turn = 0;                      // about its upright axis, to the right
    double tilt = 0;                      // about its level axis, top towards the viewer
    double scale = 1;                     // of its outline, about its middle; its form stays
    std::string name = {};                // empty: named after its text, or as its artwork calls it
    std::optional<FontChoice> font = {};  // where it differs from the piece's
    double typeSize = 1;                  // of its type, of the piece's: it takes the room it needs

    bool operator==(const LetterOwn&) const = default;
    bool isPosed() const { return x != 0 || y != 0 || z != 0 || roll != 0 || turn != 0 || tilt != 0 || scale != 1; }
};

// Copies that follow the piece, each a step further than the one before; and rows of all that.
struct Copies {
    int count = 0;
    double depthStep = 0;  // deeper by; negative: flatter
    double growth = 0;     // outline grown outwards by, with round corners, >= 0
    double back = 0;       // moved away from the viewer by
    double turn = 0;       // in the piece's plane, counter-clockwise
    Rgb tint{1, 1, 1};
    double tintShare = 0;             // colours mixed with the tint by, 0 to 1
    double across = 0, up = 0;        // moved on the piece's plane by
    int rows = 1;                     // of the piece with its copies, >= 1
    double rowAcross = 0, rowUp = 0;  // each row is moved by

    bool operator==(const Copies&) const = default;
    // Bodies count all of them, row by row, from 0, the piece itself.
    int all() const { return (count + 1) * rows; }
    int stepOf(int copy) const { return copy % (count + 1); }
    int rowOf(int copy) const { return copy / (count + 1); }
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
    bool castsShadow = true;
    bool mirrored = true;  // seen in what mirrors, and throws its light on other things

    Piece();  // all of these written out once, in work.cpp, as a work's
    Piece(const Piece&);
    Piece(Piece&&) noexcept;
    Piece& operator=(const Piece&);
    Piece& operator=(Piece&&) noexcept;
    ~Piece();
    bool operator==(const Piece&) const;
    // nullptr when the piece is made from something else, or becomes something else.
    Lettering* lettering() { return std::get_if<Lettering>(&source); }
    const Lettering* lettering() const { return std::get_if<Lettering>(&source); }
    solid::SlabForm* slab() { return std::get_if<solid::SlabForm>(&form); }
    const solid::SlabForm* slab() const { return std::get_if<solid::SlabForm>(&form); }
    Artwork* artwork() { return std::get_if<Artwork>(&source); }
    const Artwork* artwork() const { return std::get_if<Artwork>(&source); }
    Shape* shape() { return std::get_if<Shape>(&source); }
    const Shape* shape() const { return std::get_if<Shape>(&source); }
    const std::vector<std::string>& letterIds() const;  // of a lettering, or the shapes of an artwork; none of anything newer
    double sizePt() const;                              // of the type; lengths usual for a piece are shares of it

    // A segment without one of its own has that of its letter.
    const Form& formOf(const std::string& letter) const;
    const MaterialSet& materialOf(const std::string& letter) const;
    // Letters and the segments that cuts may make of them: kMostSegments of each letter and cut. In the order pixels count them.
    std::vector<std::string> allLetters() const;
    bool hasLetter(const std::string& letter) const;
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
    BackdropKind backdropKind = BackdropKind::Colour;
    Rgb backdropTop{1, 1, 1};     // of a gradient; `backdrop` is at its bottom
    float backdropBlur = 0;       // of surroundings
    std::string backdropPicture;  // name of an asset

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
    double fNumber = 0;                   // of the lens; 0: everything is sharp
    double sharp = 0;                     // before the aim, towards the viewer, what is sharp
    int blades = 0;                       // of the lens; 0: round
    bool cutsNear = false;
    double cutBefore = 0;  // before the aim, towards the viewer: pieces are cut off that far from it

    bool operator==(const View&) const = default;
};

// Who casts on whom in one light: ids of pieces, and kGroundId for wall and floor. Ids that nothing has mean nothing.
inline constexpr const char* kGroundId = "ground";
struct Casting {
    bool shadows = true;                  // without them pieces throw none in it
    std::vector<std::string> unlit;       // get none of it straight
    std::vector<std::string> shadowless;  // throw no shadow in it, but on themselves

    bool operator==(const Casting&) const = default;
    void forgetPieces();  // for another work
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
    light::SoftboxForm form = light::SoftboxForm::Rectangle;
    double turn = 0;   // of a softbox in its plane, counter-clockwise as the letters see it
    double grid = 90;  // of a softbox: beyond this angle from straight ahead it gives nothing; 90: without a grid
    bool falls = true;
    double kelvin = picture::kWhiteKelvin;
    Casting casting;
    std::string group;  // name of those it is chosen and changed together with, or ""

    bool operator==(const Light&) const = default;
    Rgb factor() const;  // colour, temperature and brightness
    bool shines() const { return on && !newer; }
};

// A card that is painted on the surroundings, as light/surroundings.h says; a black one is a flag. Angles are degrees.
struct SkyCard {
    std::string name;
    bool on = true;
    double direction = 0, height = 30;  // of its middle, as of a light
    double width = 60, breadth = 40;    // it is seen under
    double roll = 0;                    // counter-clockwise as the letters see it
    float roundness = 0, softness = 0.1f;
    Rgb colour{1, 1, 1};
    double stops = 2;  // over what is white in the surroundings
    bool own = false;  // an entry of its own at the light desk

    bool operator==(const SkyCard&) const = default;
    Rgb factor() const;  // colour and brightness
};

enum class SurroundingsKind { Even, Sky, Picture };

struct Surroundings {
    bool on = true;
    Rgb colour{1, 1, 1};
    std::string swatch;
    double stops = -1.6;
    SurroundingsKind kind = SurroundingsKind::Even;
    // Of a sky:
    Rgb above{1, 1, 1}, horizon{1, 1, 1}, below{0.4f, 0.4f, 0.4f};
    float softness = 0.6f;
    double turn = 0;  // degrees, all of it, to the right
    Ordered<SkyCard> cards;
    double kelvin = picture::kWhiteKelvin;
    std::string picture;  // name of an asset
    double tilt = 0;      // degrees, after the turn: what is straight up comes towards the viewer
    float blur = 0;       // of a picture, 0 to 1
    Casting casting;

    bool operator==(const Surroundings&) const = default;
    Rgb factor() const;
};

// The light of all materials that give some off, at the desk.
struct Emissive {
    Rgb colour{1, 1, 1};
    double stops = 0;
    Casting casting;

    bool operator==(const Emissive&) const = default;
    Rgb factor() const;
};

// A file that travels with the work.
struct Asset {
    outline::SharedBytes bytes;
    std::string licence;             // as far as known
    surface::SharedTexture texture;  // of a picture for materials: what the bytes show; nothing where they cannot be read
    light::SharedPanorama panorama;  // the same of a picture all round

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

enum class FileFormat { Png8, Png16, Exr, Jpeg, WebP, Tiff8, Tiff16, Pdf, Avif, Tiff32, Jxl8, Jxl16 };
inline bool hasCoverage(FileFormat format)  // its files can let through
{
    return format != FileFormat::Jpeg;
}

inline bool namesProfile(FileFormat format)  // its files say in which colours they are
{
    return format != FileFormat::Exr && format != FileFormat::Pdf;
}
inline bool hasQuality(FileFormat format)  // its files can lose something
{
    return format == FileFormat::Jpeg || format == FileFormat::WebP || format == FileFormat::Avif || format == FileFormat::Jxl8 ||
           format == FileFormat::Jxl16;
}
inline bool hasPasses(FileFormat format)  // in the file, or as files beside it
{
    return format == FileFormat::Exr || format == FileFormat::Png8 || format == FileFormat::Png16;
}

enum class FileColours { Srgb, DisplayP3, Rec2020, Profile };

// A file that is made of a sheet.
struct Output {
    std::string name;
    FileFormat format = FileFormat::Png8;
    int widthPx = 0;  // 0: the sheet's own
    bool transparent = false;
    bool denoise = true;
    render::StopRule stop{1024, 0, 1.5};  // when clean
    int quality = 92;                     // where hasQuality(), 1 to 100
    FileColours colours = FileColours::Srgb;
    std::string profile;              // an asset, for FileColours::Profile
    std::vector<std::string> passes;  // of EXR: some of files::kPassNames, none: all; of PNG: those that become files beside it

    bool operator==(const Output&) const = default;
    bool letsThrough() const { return transparent && hasCoverage(format); }
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
    Ordered<Output> outputs;              // at least one
    std::string shownOutput;              // the one whose values are shown; none of them: the first

    bool operator==(const Sheet&) const = default;
    const std::string& outputId() const { return outputs.items.contains(shownOutput) ? shownOutput : outputs.order.front(); }
};

// Said in the picture files themselves, as XMP.
struct Credits {
    std::string author, licence;
    std::string description;  // of what is seen, for those who do not see it

    bool operator==(const Credits&) const = default;
    bool none() const { return author.empty() && licence.empty() && description.empty(); }
};

// A version of the work that is kept with its picture, to compare and to go back to (session/proofs.h). Names are of assets.
struct Proof {
    std::string note;
    std::string made;               // local time, "2026-05-30 14:05"
    std::string picture, version;   // PNG; the work's JSON
    std::vector<std::string> uses;  // what the version needs besides

    bool operator==(const Proof&) const = default;
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
    std::map<std::string, Asset> assets;  // fonts, artwork, pictures; and finished pictures that are kept in the work, see isKeptPicture()
    std::vector<std::string> meantSo;     // notices that were silenced, as noticeKey() names them
    int nextId = 1;
    std::string kept;  // what a newer version wrote and this one does not know, as JSON; saved again
    Credits credits;
    Ordered<Proof> proofs;

    Work();  // with an empty sheet and its output
    // Written out once, in work.cpp: every file that copies works would do it again.
    Work(const Work&);
    Work(Work&&) noexcept;
    Work& operator=(const Work&);
    Work& operator=(Work&&) noexcept;
    ~Work();
    bool operator==(const Work&) const;

    // Of the sheet that is shown.
    Sheet& shownSheet() { return sheets.items.at(shown); }
    const Sheet& shownSheet() const { return sheets.items.at(shown); }
    SheetSize& sheet() { return shownSheet().size; }
    const SheetSize& sheet() const { return shownSheet().size; }
    View& view() { return shownSheet().view; }
    const View& view() const { return shownSheet().view; }
    Output& output() { return shownSheet().outputs.items.at(shownSheet().outputId()); }
    const Output& output() const { return shownSheet().outputs.items.at(shownSheet().outputId()); }
    // Where a piece stands on it: a plate by the piece it goes round, and what stands against the wall before the plates behind it.
    Placement placementOf(const std::string& piece) const;
    std::string newId(const std::string& prefix);  // one that no thing has
};

// Whether an asset of this name is a finished picture's light, to be mixed again: "kept/<title>.exr".
inline constexpr const char* kKeptFolder = "kept/";
inline constexpr const char* kProofFolder = "proofs/";
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

// A letter's face: its own, or the piece's.
const FontChoice& fontOf(const Piece& piece, const std::string& letter);

// Sets the size of a lettering's type, or the height of an artwork or shape; steps, depth and bevels grow with it.
void scaleTo(Piece& piece, double sizePt);

// Replaces bytes [begin, begin + removed) of a lettering's text, widened to whole characters, by `added`. Letters outside keep their ids
// and what they have of their own; with an accent that joins a letter, that letter keeps its own.
void editText(Piece& piece, std::size_t begin, std::size_t removed, const std::string& added);

// Replaces a lettering's text whole: what differs is found by comparing from both ends, and edited.
void setText(Piece& piece, const std::string& text);

// The least nextId that gives no id again.
int leastNextId(const Work& work);

// Every material of a piece, and of a work: of pieces, parts, letters, wall and floor.
std::vector<Material*> materialsIn(Piece& piece);
std::vector<Material*> materialsIn(Work& work);

// Changes a swatch and every colour that follows it.
void setSwatch(Work& work, const std::string& id, Rgb colour);

// Names a notice for Work::meantSo.
std::string noticeKey(const base::Note& note);

}  // namespace work
