// From pieces to bodies in the world: lettering, outlines and solids, with the cache round them.
#pragma once

#include "work/cache.h"
#include "work/work.h"

namespace work {

struct WorkBody {
    std::string piece;
    int copy = 0;                      // 0: the piece itself, from 1 on its linked copies
    std::vector<std::string> letters;  // as the body counts them
    solid::SharedBody body;
    base::Pose pose;  // of the body in the world
};

// Where a piece stands: the plane it is drawn on, and its last baseline there.
struct PiecePlace {
    std::string id;
    base::Pose pose;
    double baseline = 0;  // pt over the pose's origin
    double middle = 0;    // of the block of lines over the last baseline, pt
    base::Box3 box;       // of its bodies in the world, copies left out; empty when it shows nothing
};

struct WorkBodies {
    std::vector<WorkBody> bodies;
    std::vector<PiecePlace> places;  // of the visible pieces, front to back
    // place: "pieces/<id>" or "pieces/<id>/letters/<id>"; kinds: missing-font, missing-glyph, no-outline, thinned-away, empty,
    // round-corners, no-bevel, left-out, coplanar.
    base::Notes notes;
};

// The font of a lettering: its asset, or the file found on this machine. A missing font becomes a stand-in and a note.
// Errors: BadInput for an asset that is no font, CannotRead without any font.
base::Result<std::shared_ptr<const outline::Font>> openFont(const Work& work, const FontChoice& choice, Cache& cache, base::Notes& notes);

// The shapes of an artwork. Errors: BadInput for a work that lacks them, or a drawing that is broken.
base::Result<std::shared_ptr<const outline::Drawing>> openDrawing(const Work& work, const Artwork& artwork, Cache& cache);

// All visible bodies. Bodies are made in parallel; those the cache knows are not made again. `tolerancePt`: how far curves may
// be from their chords. Errors: BadInput, Stopped.
base::Result<WorkBodies> makeBodies(const Work& work, double tolerancePt, Cache& cache, const base::Progress& progress);

// Box round a body in the world: exact for bodies square to the axes, else round its own box.
base::Box3 worldBox(const WorkBody& body);

// The plane a piece is drawn on; it turns about the origin.
base::Pose poseOf(const Placement& placement, const Ground& ground);

// 0.15 px of an output `widthPx` wide, down to the next power of two, in pt.
double toleranceFor(const SheetSize& sheet, int widthPx);

// Where an address is, as notes name it, and back; no piece in what is no such place.
std::string placeOf(const Address& address);
Address addressAt(const std::string& place);

}  // namespace work
