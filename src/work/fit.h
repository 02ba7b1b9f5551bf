// Lettering and its sheet: how large it may be, where its lines break, and what of it is not seen.
#pragma once

#include "render/scene.h"
#include "work/bodies.h"

namespace work {

// Sets the size with which the lines fill the sheet as its view frames it: 84 % of its width or 72 % of its height, whichever comes first.
// An artwork's page fills it in the same way. Depth, bevels and places grow with it, as in scaleTo(). Nothing happens to what shows
// nothing. Errors: of an artwork without its drawing. O(letters).
base::Result<void> fitToSheet(Work& work, const std::string& piece, Cache& cache);

// The height with which a page of this shape fills the sheet in the same way, pt.
double pageHeightFor(const Work& work, double widthPt, double heightPt);

// Breaks the lines at spaces where the lettering becomes largest on its sheet, and fits it; lines that were broken before are joined
// first. Letters keep what they have of their own. O(letters x words).
base::Result<void> breakLines(Work& work, const std::string& piece, Cache& cache);

// After an edit: letterings that stay fitted are fitted anew where text, face, setting or sheet changed; one that was given another size
// stays fitted no longer.
void keepFitted(const Work& before, Work& changed, Cache& cache);

// A note for each piece that has letters wholly outside the frame; kind "off-sheet". O(bodies).
base::Notes offSheet(const Work& work, const WorkBodies& bodies, const render::Camera& camera);

}  // namespace work
