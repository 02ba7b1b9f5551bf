// Edits of a whole work that have a name: what the ticket's buttons do. Each changes the work it is given and nothing else.
#pragma once

#include <string>
#include <vector>

#include "session/choice.h"

namespace session {

// A new piece in front with this text: as large as the piece before it, and the first one as large as its sheet allows. Returns its id.
std::string addLettering(work::Work& work, const std::string& text);
// Copies right behind their originals, a little lower and to the right; returns their ids.
// What pieces take from each other (lines they run round, outlines of their steps) is taken from the copies, where those are copied too.
void takeFromCopies(work::Work& work, const std::map<std::string, std::string>& copies);  // new ids by the old ones
std::vector<std::string> duplicate(work::Work& work, const std::vector<std::string>& pieces);
// A plate behind each piece, a rim round it, or a rim on a plate: they follow it from then on. Of a piece of which letters alone are
// chosen, round those; of what has a plate already, the next one goes behind it. Returns their ids.
std::vector<std::string> addPlates(work::Work& work, const Choice& choice, bool plate, bool rim);
// Goes round the first piece that is none itself, and takes its place from that.
void becomePlate(work::Work& work, const std::string& piece);
void remove(work::Work& work, const std::vector<std::string>& pieces);
// Moves pieces by a place in the order, past all of a group; a negative way is to the front.
void reorder(work::Work& work, const std::vector<std::string>& pieces, int way);

// A light of a kind, from the viewer's side and where no other light is near. Returns its id.
std::string addLight(work::Work& work, light::LightKind kind);
std::string duplicateLight(work::Work& work, const std::string& light);
void removeLight(work::Work& work, const std::string& light);
std::string lightTitle(const work::Work& work, const std::string& light);
// Of an entry of the film: a lamp, an own card, the surroundings, emissive materials; or of what is gone.
std::string entryTitle(const work::Work& work, const std::string& entry);

// A named copy of the view as it is.
std::string saveView(work::Work& work, const std::string& name);

// A swatch with this colour.
std::string addSwatch(work::Work& work, const std::string& name, base::Rgb colour);
// Those whose colour the work has no swatch of; returns how many.
int addSwatches(work::Work& work, const std::vector<work::Swatch>& swatches);
// What followed it keeps its colour.
// Gives the work's swatches the colours of others: those of the same name (in whatever case) theirs, the rest what is left, in order. What
// follows them follows. Returns how many have changed.
int exchangeSwatches(work::Work& work, const std::vector<work::Swatch>& swatches);
void removeSwatch(work::Work& work, const std::string& swatch);

// Changes the sheet and keeps the work on it: type, depths, places, ground and lights grow with the shorter side's change where
// `scale` is set, else all lengths stay.
void changeSheet(work::Work& work, const work::SheetSize& sheet, bool scale);

}  // namespace session
