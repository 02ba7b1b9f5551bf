// The outlines of one piece on its plane: what makeBodies() makes solid, and what is written as a drawing.
#pragma once

#include <map>

#include "outline/outline.h"
#include "work/bodies.h"

namespace work {

struct PieceOutlines {
    struct Part {
        std::string letter;  // of a group of its own, a segment, or "" for the letters that are drawn together
        int copy = 0;
        std::shared_ptr<const outline::Outlined> outlined;
        bool isPlaced = false;  // it lies where its letter was moved, rolled and sized to: steps were taken there
    };
    std::vector<Part> parts;
    base::Vec2 shift;   // of all of it on the plane, pt
    PiecePlace place;   // without its box
    base::Notes notes;  // placed by "letter N"
};

// Of a lettering, an artwork or a shape. Letters with a form or a place of their own are parts of their own, and so are all shapes of an
// artwork. Errors: BadInput, CannotRead (place as the notes'), Stopped.
base::Result<PieceOutlines> outlinesOf(const Work& work, const std::string& piece, double tolerancePt, Cache& cache,
                                       const base::Progress& progress);

// The curves of a piece before it is placed, by the letter they are of: lettering where its lines run (between two lines it is still
// straight), without what its steps do. Nothing where font or drawing cannot be opened.
std::map<std::string, outline::DrawnShape> curvesOf(const Work& work, const Piece& piece, Cache& cache);

// Where all letters of a lettering begin, moved by hand as well; nothing for any other piece.
std::map<std::string, LetterFrame> letterFrames(const Work& work, const std::string& piece, Cache& cache);

// What a letter or segment has of its own for its pose; nullptr where it has nothing, or was placed already.
const LetterOwn* poseOwn(const Piece& piece, const PieceOutlines::Part& part);

// A part as large as its letter wants it, about its middle.
std::shared_ptr<const outline::Outlined> scaled(std::shared_ptr<const outline::Outlined> outlined, const LetterOwn* own);

// The pose of a part that has its size: moved and turned about its own middle by what its letter has of its own.
base::Pose poseOn(const base::Pose& piece, base::Vec2 shift, const outline::Outlined& outlined, const LetterOwn* own);

// Right-handed turn about an axis: 0 x, 1 y, 2 z. And one pose in another.
base::Pose turned(int axis, double degrees);
base::Pose after(const base::Pose& outer, const base::Pose& inner);

// One letter or shape as it was drawn, with its curves, pt on the sheet, y up.
struct DrawnLetter {
    std::string letter;  // the first of those that are drawn together
    outline::DrawnShape shape;
};
// All of a piece, flat: where it stands on the sheet, rolled, neither turned nor tilted. What was grown, thinned or bent has straight edges
// within `tolerancePt`. `colour` is that of the face. Errors as outlinesOf().
base::Result<std::vector<DrawnLetter>> drawnLetters(const Work& work, const std::string& piece, double tolerancePt, Cache& cache);

// A piece as it lies flat on the shown sheet, as drawnLetters() has it: areas of straight edges, pt from the sheet's middle, y up. Errors
// as outlinesOf().
base::Result<finish::FlatShape> flatShapeOf(const Work& work, const std::string& piece, double tolerancePt, Cache& cache);

// Pieces as an SVG of the sheet's size: a group for each, a path for each letter, in true curves. Hidden ones are left out. Errors as
// outlinesOf().
base::Result<std::string> piecesAsSvg(const Work& work, const std::vector<std::string>& pieces, Cache& cache);

}  // namespace work
