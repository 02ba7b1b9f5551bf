// Pieces and lights on their way to another place: copied, cut and pasted, also between works.
#pragma once

#include "session/choice.h"

namespace session {

// A work of these pieces alone, with the fonts and swatches that they need, without lights.
work::Work clipOf(const work::Work& work, const std::vector<std::string>& pieces);
work::Work clipOfLight(const work::Work& work, const std::string& light);

// Puts a clip's pieces in front, a little aside when they are there already, and its lights at the end. Swatches that the work knows by
// name and colour are followed, others come along. Returns the ids of the new pieces.
std::vector<std::string> paste(work::Work& work, const work::Work& clip);

// A work's swatch in another one: one of the same name and colour there, or a new one; "" where it has none of that id.
std::string swatchFor(work::Work& work, const work::Work& from, const std::string& id);

// What is chosen gets the form or the materials of the clip's first piece. False when the clip has no piece.
bool pasteForm(work::Work& work, const Choice& choice, const work::Work& clip);
bool pasteMaterial(work::Work& work, const Choice& choice, const work::Work& clip);
// A light becomes like the clip's first light, but for its name. False when the clip has none.
bool pasteLight(work::Work& work, const std::string& light, const work::Work& clip);

}  // namespace session
