// Lines in the picture: what lettering runs along or is bent between, and shapes of our own, with the places hands take hold of.
//
// Places are on the piece's plane, pt from its pose's origin, y up.
#pragma once

#include "work/bodies.h"

namespace session {

using base::Vec2;

struct LineHandle {
    enum class Kind { Bend, Width, Height, Size, Start, Point, In, Out, PushFrom, PushTo, PushRadius };
    enum class Line { Main, Top, Bottom, Step };
    Kind kind = Kind::Point;
    Line line = Line::Main;
    std::string point;  // of Point, In and Out
    Vec2 at;
    Vec2 from;         // In and Out: their point
    std::string step;  // of a line that is a step's
};
// Of a piece that shows some: of what its lettering runs along, of its shape, and of its step where one is named. O(points).
std::vector<LineHandle> lineHandles(const work::Piece& piece, const work::PiecePlace& place, const std::string& step = {});

// The lines themselves, to be painted: each a row of places. O(points).
std::vector<std::vector<Vec2>> linesSeen(const work::Piece& piece, const work::PiecePlace& place, const std::string& step = {});

// A handle comes to lie at a place. Lines that were only begun with become points of their own. `free`: a curve's handle moves without the
// one across its point.
void moveHandle(work::Piece& piece, const work::PiecePlace& place, const LineHandle& handle, Vec2 to, bool free = false);

// The line of points that can be drawn on and taken from: of a cut, a drawn shape, or lettering along a drawn line; or nullptr.
work::DrawnLine* drawnLineOf(work::Piece& piece, const std::string& step = {});

// A point more, where the line passes nearest to the place; its curves stay as they are. False without a line within `reach`.
bool addPoint(work::Piece& piece, const work::PiecePlace& place, Vec2 at, double reach, const std::string& step = {});
// Takes a point away; a line keeps two (a closed one three). False where that is not possible.
bool removePoint(work::Piece& piece, const work::PiecePlace& place, const LineHandle& handle);
// A corner becomes a curve, a curve a corner.
void toggleCorner(work::Piece& piece, const work::PiecePlace& place, const LineHandle& handle);

// What a pen draws, point by point.
struct PenLine {
    std::vector<work::LinePoint> points;
    bool closed = false;
};
work::DrawnLine drawn(const PenLine& line, Vec2 middle);
// As a piece of its own before the others, like lettering is added; its id. The line lies on the sheet.
std::string addShape(work::Work& work, work::Shape shape, Vec2 middle);
std::string addDrawn(work::Work& work, const PenLine& line);
// A cut along a line on the piece's plane, that goes with a letter (or "": with the piece); the step's id.
std::string addCut(work::Work& work, const std::string& piece, const PenLine& line, const std::string& letter,
                   const work::LetterFrame& frame);

}  // namespace session
