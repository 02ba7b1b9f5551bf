// Layers of the finish: what is done to the developed picture, one after the other, without ever touching the render.
//
// Lengths are pt of the sheet, so that draft and final look alike at any number of pixels. Halos are light and come before the view
// transform, in their order; all else follows it, on colour as it is seen (encoded sRGB), as blends do (W3C Compositing and Blending
// Level 1).
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "base/vec.h"
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

struct Fill {
    FillForm form = FillForm::Even;
    Rgb colour{1, 1, 1};
    std::string swatch;
    Rgb to{0, 0, 0};
    double toOpacity = 1;  // of the gradient's other end
    double turn = 90;      // degrees, of a linear one: where its other end lies, 0 right, 90 up
    double reach = 1;      // of a gradient: of the way from edge to edge, or from the middle to a corner

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

// Where a layer acts.
enum class Acts { Everywhere, Lettering, Behind, Ground, Backdrop };

// A piece, one of its letters, a part of those, as pixels count them; 0 is any.
struct MaskItem {
    std::uint16_t piece = 0, letter = 0, part = 0;

    bool operator==(const MaskItem&) const = default;
};

struct Mask {
    Acts acts = Acts::Everywhere;
    std::vector<MaskItem> items;  // only there, where there are any
    bool inverted = false;

    bool operator==(const Mask&) const = default;
    bool isEverywhere() const { return acts == Acts::Everywhere && items.empty() && !inverted; }
};

struct Layer {
    double strength = 1;
    Blend blend = Blend::Normal;
    Mask mask;
    std::variant<Tone, Levels, Duotone, Fill, Halo, Soften, Sharpen, Grain, Vignette, PrintRaster, FlatShadow, Picture, Lines> what;

    bool operator==(const Layer&) const = default;
};

}  // namespace finish
