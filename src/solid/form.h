// Forms: how an outline becomes a solid.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/vec.h"

namespace solid {

// From the foot of a bevel inwards: straight; a quarter round outwards; one inwards; first the one and then the other; flat treads with
// upright risers; or as it was drawn.
enum class Profile { Chamfer, Roundover, Cove, Ogee, Terraces, Drawn };
// Round an arc, to a point (which far points are not), or straight across.
enum class Corners { Round, Mitred, Flat };

// A bevel of the solid's edge. Either length 0 means none.
struct Bevel {
    double widthPt = 0;   // along the face, measured from the outline inwards, >= 0
    double heightPt = 0;  // along the depth, >= 0
    Profile profile = Profile::Chamfer;
    int steps = 8;           // of a curved profile, to 64, or how many terraces; a chamfer has one. 0: as many as the tolerance needs
    bool facets = false;     // each step of a curve flat with hard edges, instead of shaded as one
    std::string drawn = {};  // the drawn profile, see profile.h; "": kBead

    bool operator==(const Bevel&) const = default;
    bool none() const { return widthPt <= 0 || heightPt <= 0; }
};

// What happens along the depth: the front stays, towards the back it is more and more of this.
struct Along {
    double twist = 0;                 // degrees the back is turned by, counter-clockwise as seen from the front
    double taper = 1;                 // the back's size, of the front's, >= 0: 0 runs to a point
    double leanX = 0, leanY = 0;      // pt the back is moved by, right and up
    double bend = 0;                  // degrees the axis is bent by
    double bendTowards = 0;           // the direction it is bent to, degrees from the right counter-clockwise
    bool together = false;            // about the piece's middle instead of each letter's own
    std::optional<base::Vec2> about;  // that middle, in the outline's coordinates; set for a body, never saved

    bool operator==(const Along&) const = default;
    bool none() const { return twist == 0 && taper == 1 && leanX == 0 && leanY == 0 && bend == 0; }
};

// A part of the front's face that is sunk or raised, inside a border. Sunk by 0: none.
struct Inlay {
    double borderPt = 0;                 // from the bevel's inner edge inwards, >= 0
    double sunkPt = 0;                   // into the depth; negative: raised
    double rimPt = 0;                    // width of the rim that leads there, >= 0; 0 is an upright wall
    Profile profile = Profile::Chamfer;  // of the rim
    int steps = 8;
    std::string drawn = {};

    bool operator==(const Inlay&) const = default;
    bool none() const { return sunkPt == 0; }
};

// Furrows round the sides, one over the other along the depth.
struct Flutes {
    int count = 0;      // 0: none
    double deepPt = 1;  // cut into the sides, >= 0
    std::string drawn;  // the cross-section of one, see profile.h; "": kHalfRound

    bool operator==(const Flutes&) const = default;
    bool none() const { return count <= 0 || deepPt <= 0; }
};

struct SlabForm {
    double depthPt = 24;  // >= 0; see kThinnest
    Bevel front, back;
    Corners corners = Corners::Round;  // of bevels and sides where they turn round a corner
    Along along = {};
    Inlay inlay = {};
    // The outline is grown by the widest bevel first: bevels stand round it, and the face under the widest is as the outline was.
    bool grownOut = false;
    bool linked = false;  // the back's bevel is as the front's
    double draft = 0;     // degrees the sides lean, below 90: above 0 the front is smaller, below 0 the back
    Flutes flutes = {};

    bool operator==(const SlabForm&) const = default;
};

// An outline swollen in front, or in front and at the back.
struct DomedForm {
    double depthPt = 0;   // of the straight side between front and back, >= 0
    double rise = 1;      // of the front, >= 0: 1 makes a half round of a stroke and a half ball of a disc, 0 is flat
    double backRise = 0;  // of the back
    // -1 to 1: 0 is round. Above, tops grow flat and thin strokes as high as wide ones, like a pillow; below, flanks grow straight and thin
    // strokes low, like a tent.
    double fullness = 0;
    double seamPt = 0;  // the rim of one that is not round is rounded by about this radius, >= 0
    Along along = {};

    bool operator==(const DomedForm&) const = default;
};

// An outline whose sides run back to a point or in a direction.
struct BlockForm {
    double depthPt = 24;  // 0 is flat: all of it in the plane of the letters
    bool toPoint = true;
    double x = 0, y = -300;              // pt from the piece's place: the point, or how far the back is moved
    double share = 0.6;                  // of the way to the point, 0 to 1
    std::optional<base::Vec2> resolved;  // the same in the outline's own axes; set for a body, never saved

    bool operator==(const BlockForm&) const = default;
};

enum class TubePath { Centre, Outline };
enum class TubeSection { Round, Rope, Ribbon };

// A tube along the centre lines of an outline's strokes, or along the outline.
struct TubeForm {
    double widthPt = 6;   // across, > 0
    double heightPt = 0;  // along the depth; 0: as wide
    TubePath path = TubePath::Centre;
    TubeSection section = TubeSection::Round;
    double liftPt = 0;      // off its back's plane, >= 0
    bool gaps = false;      // where a stroke meets one that goes on it stops short, as bent glass does
    double gapPt = 1;       // between the two, >= 0
    bool roundEnds = true;  // half balls; flat otherwise
    int strands = 3;        // of a rope, 2 to 8
    double layPt = 20;      // length in which a strand goes round once, > 0
    bool over = false;      // lines that cross go one over the other; else into each other

    bool operator==(const TubeForm&) const = default;
};

// A slab of depth 0 is drawn as a sheet this thick, so that it stays a closed body with a front and a back.
inline constexpr double kThinnestPt = 0.02;

// A level of a profile: at `distance` from the outline the surface stands `height` above the bevel's foot.
// (out, up) is the unit normal there, below and above the level: both agree where the surface is smooth.
struct Level {
    double distance = 0, height = 0, arc = 0;  // arc: length along the profile, pt
    double outBelow = 1, upBelow = 0;
    double outAbove = 1, upAbove = 0;
};

// Levels of a bevel from its foot (distance 0) to its upper edge (distance = width); one level at 0 for none. Distances only rise; at a
// riser several levels have the same. Curves are quarter ellipses, sampled at even angles; an ogee has two of half the size.
std::vector<Level> levelsOf(const Bevel& bevel, double tolerancePt);
// The same with an inlay, which is sunk by `deepest` at most. Level `rim` is the border's inner edge, where the inlay's rim begins; the
// number of levels where there is none.
std::vector<Level> levelsOf(const Bevel& bevel, const Inlay& inlay, double deepest, double tolerancePt, std::size_t& rim);

// A side that is not upright: from the back's foot to the front's, `height` over the back's foot, `distance` inwards from the outermost.
// Distances rise and fall; (out, up) is the normal.
std::vector<Level> sideLevels(const SlabForm& form, double height, double tolerancePt);

}  // namespace solid
