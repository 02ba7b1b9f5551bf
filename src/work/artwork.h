// Artwork as pieces: put into a work, and replaced by a newer version of it.
#pragma once

#include "outline/drawing.h"
#include "work/work.h"

namespace work {

// A file of somebody else's as it was read, see files/artwork.h.
struct ArtworkFile {
    std::string name;  // with its ending
    std::string path;  // or ""
    outline::SharedBytes bytes;
    int page = 1;
    outline::Drawing drawing;
    outline::SharedBytes greys;  // of a picture that was traced, see outline/trace.h; else none
    outline::TraceSettings trace;
};

// A piece in front, as large as the sheet allows. The colour that covers most is the piece's own; shapes of other colours have a
// material of their own. Returns its id. O(curves).
std::string addArtwork(Work& work, const ArtworkFile& file);

// What became of the shapes.
struct Replaced {
    int kept = 0, added = 0, removed = 0;
};
// Another version of a piece's artwork, at the same scale. Shapes of the same name, and of the same place where they have none, keep
// their ids and with them all that they have of their own; one whose colour was the artwork's takes the new one. O(shapes^2) at most.
// Of a picture after a picture the settings of its tracing stay.
Replaced replaceArtwork(Work& work, const std::string& piece, ArtworkFile file);

// Traces pictures again whose settings differ from what they were, shapes keep their ids as above: of a work that is about to take the
// place of `before`. What shows nothing then keeps what it had. O(pixels) of each.
void keepTraced(const Work& before, Work& changed);

// The shapes of a piece's artwork that are painted in the colour of this one.
std::vector<std::string> shapesOfColour(const Work& work, const std::string& piece, const std::string& shape);

// A swatch for each colour of the artwork, followed by all its shapes of that colour. Returns how many there are.
int coloursToSwatches(Work& work, const std::string& piece);

// "#E8664F" of a colour in a drawing.
Rgb colourOf(const outline::DrawnShape& shape);

}  // namespace work
