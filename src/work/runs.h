// Lettering set on what its lines run along.
#pragma once

#include <optional>

#include "outline/bend.h"
#include "outline/route.h"
#include "work/cache.h"
#include "work/work.h"

namespace work {

// A layout after it was set: along its route the glyphs have their places; between two lines they are still to be bent.
struct Running {
    outline::Layout layout;
    std::optional<outline::Bend> bend;
    outline::Route route;       // of lettering along a line, in the layout's plane; of no length for any other
    bool hasOwnMiddle = false;  // (0, 0) is the middle of its line, not of the block of lines
};

// Sets a straight layout of the lettering. Notes: "no-line" where the line it runs along is not there: then it stays straight; "too-long".
// O(letters).
Running setOnRun(const Work& work, const Lettering& lettering, outline::Layout straight, double capHeightPt, Cache& cache);

// The line of a kind that needs no text: round a circle, drawn and so on; of no length where there is none. Clockwise where it is closed.
outline::Route routeOf(const Work& work, const Run& run, Cache& cache);

// The two lines as they are now: drawn ones, or those it begins with; in shares of the lettering's box.
outline::TwoLines linesOf(const Run& run);
// The box they are shares of: from the last baseline to the capitals of the first line.
base::Box2 blockOf(const outline::Layout& straight, double capHeightPt);

// Lettering begins to run otherwise, with values that suit it where it has none of that kind yet: a line as large as its text needs, the
// frontmost piece it can run round.
void chooseRun(Work& work, const std::string& piece, RunKind kind, Cache& cache);
// Pieces a lettering can run round: artworks and shapes, front to back.
std::vector<std::string> piecesToRunRound(const Work& work);

// Round where the letters of a set layout lie: from their baselines to the capitals' height.
base::Box2 boxOf(const Running& running, double capHeightPt);

}  // namespace work
