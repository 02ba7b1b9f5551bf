// From pieces to bodies in the world: lettering, outlines and solids, with the cache round them.
#pragma once

#include <map>

#include "outline/route.h"
#include "work/cache.h"
#include "work/work.h"

namespace work {

struct WorkBody {
    std::string piece;
    int copy = 0;                      // 0: the piece itself, from 1 on its linked copies
    std::vector<std::string> letters;  // as the body counts them
    solid::SharedBody body;
    base::Pose pose;  // of the body in the world
    // Where its origin lies on the piece's plane, from the middle of the piece, and how far it is turned there, radians: moves by hand left
    // out.
    base::Vec2 home;
    double homeTurn = 0;
};

// Where a letter begins on its piece's plane, and how far it is turned there, radians.
struct LetterFrame {
    base::Vec2 origin;
    double turn = 0;

    base::Vec2 at(base::Vec2 own) const;        // from the letter to the plane
    base::Vec2 from(base::Vec2 onPlane) const;  // and back
};

// Where a piece stands: the plane it is drawn on, and its last baseline there.
struct PiecePlace {
    std::string id;
    base::Pose pose;
    double baseline = 0;  // pt over the pose's origin
    double middle = 0;    // of the block of lines over the last baseline, pt
    base::Box3 box;       // of its bodies in the world, copies left out; empty when it shows nothing
    // Of lettering: what its own plane is shifted by on the piece's, the block of its lines before it was set on anything (in its own
    // plane), and the line it runs along, as its letters go, or nullptr.
    base::Vec2 shift;
    base::Box2 block;
    std::shared_ptr<const outline::Route> route;
    std::map<std::string, LetterFrame> frames;  // of the letters that its steps go with
};

// Two pieces that cut into each other, see work/clashes.h.
struct Clash {
    std::string piece, other;  // in the order of pieces
    base::Vec3 at;             // in the room they share, in the world

    bool operator==(const Clash&) const = default;
};

struct WorkBodies {
    std::vector<WorkBody> bodies;
    std::vector<Clash> clashes;      // filled with a picture's scene
    std::vector<PiecePlace> places;  // of the visible pieces, front to back
    // place: "pieces/<id>" or "pieces/<id>/letters/<id>"; kinds: missing-font, lent-face, missing-glyph, no-outline, thinned-away, empty,
    // round-corners, cut-through, no-bevel, no-dome, left-out, coplanar.
    base::Notes notes;
};

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
