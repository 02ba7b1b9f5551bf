// Layers of the finish: what is done to the developed picture, one after the other, without ever touching the render.
//
// Lengths are pt of the sheet, so that draft and final look alike at any number of pixels. Halos and rays are light and come before the
// view transform, in their order; all else follows it, on colour as it is seen (encoded sRGB), as blends do (W3C Compositing and Blending
// Level 1).
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/variant.h"
#include "base/vec.h"
#include "finish/cube.h"
#include "surface/texture.h"

namespace finish {

using base::Rgb;

// By the names and formulas of W3C Compositing and Blending Level 1.
enum class Blend {
    Normal,
    Multiply,
    Screen,
    Overlay,
    Darken,
    Lighten,
    ColorDodge,
    ColorBurn,
    HardLight,
    SoftLight,
    Difference,
    Exclusion,
    Hue,
    Saturation,
    Color,
    Luminosity,
    PlusLighter
};

// Of what is there. Shares from -1 to 1 but for exposure (stops) and hue (degrees).
struct Tone {
    double exposure = 0, contrast = 0, saturation = 0, warmth = 0;
    double highlights = 0, shadows = 0, whites = 0, blacks = 0;  // bright and dark parts; the ends of the scale
    double tint = 0;                                             // towards green; negative: magenta
    double vibrance = 0;                                         // saturation of what is pale
    double hue = 0;

    bool operator==(const Tone&) const = default;
};

// What is at `low` becomes black, at `high` white, in the middle by its power; then black and white become `outLow` and `outHigh`.
struct Levels {
    double low = 0, high = 1, middle = 1, outLow = 0, outHigh = 1;

    bool operator==(const Levels&) const = default;
};

// Colours by brightness alone.
struct Duotone {
    Rgb dark{0, 0, 0}, light{1, 1, 1};
    std::string swatch;  // that `dark` follows

    bool operator==(const Duotone&) const = default;
};

enum class FillForm { Even, Linear, Round };

// Where a letter is seen: its numbers as pixels have them, and its face's box, pt from the sheet's middle, y up.
struct LetterBox {
    std::uint16_t piece = 0, letter = 0;
    base::Box2 box;

    bool operator==(const LetterBox&) const = default;
};

struct Fill {
    FillForm form = FillForm::Even;
    Rgb colour{1, 1, 1};
    std::string swatch;
    Rgb to{0, 0, 0};
    double toOpacity = 1;          // of the gradient's other end
    double turn = 90;              // degrees, of a linear one: where its other end lies, 0 right, 90 up
    double reach = 1;              // of a gradient: of the way from edge to edge, or from the middle to a corner
    bool byLetter = false;         // a gradient lies over each letter by itself, and nowhere else
    std::vector<LetterBox> boxes;  // of all letters, for that

    bool isByLetter() const { return byLetter && form != FillForm::Even; }
    bool operator==(const Fill&) const = default;
};

// Light round what is bright.
struct Halo {
    double radius = 40;  // pt, half of its light lies within about 0.6 of it
    double from = 0.8;   // only light above this counts, a share of white
    double stops = 0;
    Rgb tint{1, 1, 1};
    std::string swatch;

    bool operator==(const Halo&) const = default;
};

struct Soften {
    double radius = 4;  // pt: of a Gaussian whose standard deviation is half of it

    bool operator==(const Soften&) const = default;
};

struct Sharpen {
    double radius = 1.5;  // pt, of what counts as fine
    double amount = 0.5;

    bool operator==(const Sharpen&) const = default;
};

struct Grain {
    double size = 1.2;    // pt
    double amount = 0.5;  // standard deviation, of the distance from grey to white
    double colour = 0;    // share of it that differs by channel
    int seed = 0;

    bool operator==(const Grain&) const = default;
};

struct Vignette {
    double amount = 0.5;   // at a corner
    double begins = 0.4;   // of the way from the middle to a corner
    double roundness = 0;  // 0: as the frame, 1: a circle
    Rgb colour{0, 0, 0};

    bool operator==(const Vignette&) const = default;
};

// Dots by brightness, as a press prints greys.
struct PrintRaster {
    double size = 6;   // pt, from dot to dot
    double turn = 45;  // degrees
    Rgb ink{0, 0, 0}, paper{1, 1, 1};
    std::string swatch;  // that `ink` follows

    bool operator==(const PrintRaster&) const = default;
};

// Of the outline of what the layer acts on, moved; behind the lettering.
struct FlatShadow {
    double right = 12, down = 12;  // pt
    double softness = 0;           // pt
    bool isLong = false;           // all of the way from the letters to there
    Rgb colour{0, 0, 0};
    std::string swatch;

    bool operator==(const FlatShadow&) const = default;
};

// A picture as typed: a cut-out in front, or a texture all over.
struct Picture {
    std::string asset;               // a work's name for it
    surface::SharedTexture texture;  // its colours are made; nothing: nothing is seen
    double x = 0, y = 0;             // pt, of its middle from that of the sheet, y up
    double width = 400;              // pt
    double turn = 0;                 // degrees, counter-clockwise
    surface::PictureEdges edges = surface::PictureEdges::Once;
    double cropLeft = 0, cropRight = 0, cropTop = 0, cropBottom = 0;  // of its sides, what is cut off one that lies there once

    bool operator==(const Picture&) const = default;
};

// Along the borders of pieces, letters and parts, as far as they are asked for; outlines against the ground always.
struct Lines {
    double width = 1.5;  // pt
    Rgb colour{1, 1, 1};
    std::string swatch;
    bool letters = true, parts = true;

    bool operator==(const Lines&) const = default;
};

enum class CurveOf { All, Red, Green, Blue };

// A curve through five values at even places, smooth and without overshoot.
struct Curves {
    CurveOf of = CurveOf::All;
    double black = 0, dark = 0.25, middle = 0.5, bright = 0.75, white = 1;

    bool operator==(const Curves&) const = default;
};

// Each channel anew from all three.
struct Mixer {
    double redRed = 1, redGreen = 0, redBlue = 0;
    double greenRed = 0, greenGreen = 1, greenBlue = 0;
    double blueRed = 0, blueGreen = 0, blueBlue = 1;

    bool operator==(const Mixer&) const = default;
};

// Light drawn out to a star from what is bright.
struct Rays {
    int count = 4;
    double length = 80;  // pt, to where a tenth of its light is left
    double turn = 20;    // degrees, of the first one
    double from = 1;     // only light above this counts, a share of white
    double stops = 0;
    Rgb tint{1, 1, 1};
    std::string swatch;

    bool operator==(const Rays&) const = default;
};

// What a lens adds round a lamp: a glow, a ring, and ghosts on the line through the frame's middle. A drawing of it, not traced.
struct Flare {
    std::string lamp;          // a work's name for it; empty: the place is typed
    double x = -300, y = 180;  // pt, of the lamp from the sheet's middle, y up
    bool hidden = false;       // it is behind the viewer
    double size = 160;         // pt, the ring's radius; the glow is at half its light an eighth of that away
    double ring = 0.5;         // strength of the ring, of its usual one
    int ghosts = 5;
    double stops = 0;
    Rgb tint{1, 1, 1};
    std::string swatch;
    int seed = 0;
    double open = 1;  // the share of the lamp that nothing hides

    bool operator==(const Flare&) const = default;
};

// Lit haze between the viewer and what is seen, brightest at a lamp; what stands before the lamp throws its shadow through it. It is done
// in the picture, not in space: a pixel gets as much as the straight line from the lamp to it is open.
struct Beams {
    std::string lamp;          // a work's name for it; empty: the place is typed
    double x = -300, y = 180;  // pt, of the lamp from the sheet's middle, y up
    bool hidden = false;       // it is behind the viewer
    double depth = 1e9;        // pt behind the aim: only what is nearer stands before it
    double size = 250;         // pt, where half of its light is left
    double stops = 0;
    Rgb tint{1, 1, 1};
    std::string swatch;

    bool operator==(const Beams&) const = default;
};

enum class ParticleForm { Sparks, Dots, Confetti };

// Strewn over the frame by a number: the same at any size.
struct Particles {
    ParticleForm form = ParticleForm::Sparks;
    int count = 250;
    double size = 4;                         // pt
    double variation = 0.7;                  // of their sizes, 0: all alike
    double turn = 80;                        // degrees, the way they fly
    double spread = 40;                      // degrees about that
    double gathers = 0;                      // towards the frame's middle, 0 to 1
    Rgb colour{1, 1, 1}, to{1, 0.5f, 0.1f};  // between these
    std::string swatch;                      // that `colour` follows
    int seed = 0;

    bool operator==(const Particles&) const = default;
};

// Clouds of noise.
struct Smoke {
    double size = 150;  // pt, of a cloud
    double density = 0.6;
    double turn = -90;   // degrees: where it is thickest, -90 at the bottom
    double reach = 0.7;  // how far it goes from there across the frame; 0: it is the same everywhere
    Rgb colour{0.9f, 0.9f, 0.9f};
    std::string swatch;
    int seed = 0;

    bool operator==(const Smoke&) const = default;
};

enum class TrailForm { Along, Round, Zoom };

// Blurred as by a movement.
struct Trail {
    TrailForm form = TrailForm::Along;
    double length = 40;       // pt
    double turn = 0;          // degrees, where it goes
    double angle = 6;         // degrees, round a point
    double zoom = 0.1;        // of the way to the point
    double x = 0, y = 0;      // pt, the point, from the sheet's middle, y up
    bool onlyBehind = false;  // it trails what moves, instead of being blurred both ways

    bool operator==(const Trail&) const = default;
};

enum class StuffForm { Paper, Canvas, Dust, Scratches, Worn };

// What a print lies on, and what happens to it.
struct Stuff {
    StuffForm form = StuffForm::Paper;
    double size = 3;  // pt, of a fibre, a thread, a speck
    double amount = 0.5;
    double turn = 0;  // degrees
    Rgb colour{1, 1, 1};
    std::string swatch;
    int seed = 0;

    bool operator==(const Stuff&) const = default;
};

// Inks that do not meet: cyan is moved one way, yellow the other.
struct Misprint {
    double right = 1.5, down = 0.8;  // pt

    bool operator==(const Misprint&) const = default;
};

// Bright and dark bands, as light lies on rolled metal.
struct Bands {
    double size = 60;  // pt, of a band
    double turn = 70;  // degrees, the way across them
    double softness = 0.6;
    double variation = 0.6;  // of their widths
    Rgb colour{1, 1, 1}, to{0.2f, 0.2f, 0.2f};
    double toOpacity = 0;
    std::string swatch;
    int seed = 0;

    bool operator==(const Bands&) const = default;
};

// Closed lines, flat, pt from the sheet's middle, y up: areas have the inside on their left, holes on their right, and do not overlap.
using FlatShape = std::vector<std::vector<base::Vec2>>;

// A piece that is no body: printed over the picture as it lies on the sheet.
struct Print {
    std::string piece;                       // a work's name for it
    std::shared_ptr<const FlatShape> shape;  // nothing: nothing is seen
    Rgb colour{0, 0, 0};
    std::string swatch;

    bool operator==(const Print& o) const
    {
        return piece == o.piece && colour == o.colour && swatch == o.swatch &&
               (shape == o.shape || (shape && o.shape && *shape == *o.shape));
    }
};

enum class CodeForm { Qr, Ean13 };

// A code for machines, on a field of its own.
struct Code {
    CodeForm form = CodeForm::Qr;
    std::string text;
    std::shared_ptr<const FlatShape> bars, field;  // of the text; nothing where it cannot be written so
    double x = 0, y = 0;                           // pt, of its middle from that of the sheet, y up
    double size = 90;                              // pt, its width with the quiet zone
    Rgb colour{0, 0, 0}, paper{1, 1, 1};
    std::string swatch;  // that `colour` follows

    bool operator==(const Code& o) const
    {
        const auto same = [](const auto& a, const auto& b) { return a == b || (a && b && *a == *b); };
        return form == o.form && text == o.text && same(bars, o.bars) && same(field, o.field) && x == o.x && y == o.y && size == o.size &&
               colour == o.colour && paper == o.paper && swatch == o.swatch;
    }
};

// Colours by a table from a file.
struct Lookup {
    std::string asset;  // a work's name for it
    SharedCube cube;    // nothing: colours stay as they are

    bool operator==(const Lookup& o) const { return asset == o.asset && (cube == o.cube || (cube && o.cube && *cube == *o.cube)); }
};

// Layers that are done as one: blend, strength and mask are of what they make of the picture together.
struct Group {
    int layers = 0;  // so many that come right before it are in it

    bool operator==(const Group&) const = default;
};

// Where a layer acts.
enum class Acts { Everywhere, Lettering, Behind, Ground, Backdrop };

// A piece, one of its letters, a part of those, as pixels count them; 0 is any.
struct MaskItem {
    std::uint16_t piece = 0, letter = 0, part = 0;

    bool operator==(const MaskItem&) const = default;
};

enum class Lit { Any, InShadow, InLight };

// Drawn by hand with a round brush.
struct Stroke {
    std::vector<base::Vec2> points;  // pt from the sheet's middle, y up; one: a dot
    double size = 60;                // pt, across
    double softness = 0.5;           // of its radius, where it fades
    bool erases = false;

    bool operator==(const Stroke&) const = default;
};

// How much a layer acts at a pixel: all of these multiplied, and then perhaps turned round.
struct Mask {
    Acts acts = Acts::Everywhere;
    std::vector<MaskItem> items;        // only there, where there are any
    std::string light;                  // only as far as light is of this entry of the film; empty: of any
    double edge = 0;                    // pt, how soft those two are at their borders
    double darkest = 0, brightest = 1;  // only where luma of what is below lies between
    double fades = 0;                   // along a line across the frame, 1: to nothing
    double fadesTurn = 90;              // degrees: where it fades to
    bool inverted = false;
    double farFrom = 0, farTo = 0;  // pt behind the aim: not at all before the first, wholly from the second on; the same: everywhere
    Lit lit = Lit::Any;             // as far as lights are hidden from what is there, or not
    std::vector<Stroke> strokes;    // only where they are, one over the other; the first erases: all but there

    bool operator==(const Mask&) const = default;
    bool byDepth() const { return farFrom != farTo; }
    bool looksAtIds() const { return acts != Acts::Everywhere || !items.empty() || byDepth() || lit != Lit::Any; }
    bool isEverywhere() const
    {
        return !looksAtIds() && light.empty() && darkest <= 0 && brightest >= 1 && fades <= 0 && !inverted && strokes.empty();
    }
};

using What = base::Variant<Tone, Levels, Duotone, Fill, Halo, Soften, Sharpen, Grain, Vignette, PrintRaster, FlatShadow, Picture, Lines,
                           Curves, Mixer, Rays, Particles, Smoke, Trail, Stuff, Misprint, Bands, Print, Code, Lookup, Flare, Group, Beams>;

struct Layer {
    double strength = 1;
    Blend blend = Blend::Normal;
    Mask mask;
    What what;

    bool operator==(const Layer&) const = default;
};

}  // namespace finish
