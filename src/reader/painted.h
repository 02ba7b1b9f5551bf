// What a vector picture paints, one thing after the other: read from the SVG that cairo writes.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "base/result.h"
#include "outline/curve.h"

namespace reader {

using base::Vec2;

// x' = a x + c y + e, y' = b x + d y + f.
struct Matrix {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;

    Vec2 operator()(Vec2 p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    Matrix operator*(const Matrix& m) const;  // first m, then this
    double scale() const;                     // the square root of the area's
};

struct Subpath {
    std::vector<outline::Curve> curves;
    bool closed = false;
    Vec2 start;  // of one without curves
};
using Path = std::vector<Subpath>;

Path placed(Path path, const Matrix& matrix);

struct Clip {
    Path path;  // placed
    bool evenOdd = false;
};

struct StrokeStyle {
    double width = 0;
    enum class Cap { Butt, Round, Square } cap = Cap::Butt;
    enum class Join { Miter, Round, Bevel } join = Join::Miter;
    double miterLimit = 4;
    std::vector<double> dashes;
    double dashOffset = 0;
};

struct Painted {
    Path path;      // in its own coordinates
    Matrix matrix;  // to the page
    bool isStroke = false;
    bool evenOdd = false;
    StrokeStyle stroke;  // widths in the path's own coordinates
    std::uint32_t colour = 0;
    double opacity = 1;  // of the paint itself
    std::vector<Clip> clips;
};

struct Picture {
    std::vector<Painted> painted;
    std::map<std::string, int> left;  // what is ignored or approximated, and how often
};

// `svg` as cairo 1.16 writes it: absolute path data, matrix transforms, rgb() paints, `g` with clip paths, `use` of surfaces and glyphs.
// Gradients become the mean of their stops. Errors: BadInput, TooLarge.
base::Result<Picture> readCairoSvg(const std::string& svg);

}  // namespace reader
