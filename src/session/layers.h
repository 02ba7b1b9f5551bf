// Layers of the finish by hand: what the ticket's list does, and the words for it.
#pragma once

#include <string>

#include "session/choice.h"

namespace session {

std::string layerTitle(const work::Work& work, const work::Layer& layer);
// "on all pieces but the face of KITE".
std::string whereText(const work::Work& work, const work::Layer& layer);

// Over the layer `below`, in its group if it is in one, or over all. Returns its id.
std::string addLayer(work::Work& work, std::size_t kind, const std::string& below = {});
// Small type at the foot of the sheet, printed flat: a piece of lettering with its layer. Returns the layer; its piece is in it.
std::string addCaption(work::Work& work, const std::string& text, const std::string& below = {});
// Prints a piece flat from now on, in the colour of its face: it is no body any more.
std::string addPrint(work::Work& work, const std::string& piece, const std::string& below = {});
// A copy of a piece is printed as the original is in `from`, this work or another one.
void printLike(work::Work& work, const work::Work& from, const std::string& original, const std::string& copy);
// No layer prints it any more.
void forgetPrints(work::Work& work, const std::string& piece);
std::string duplicateLayer(work::Work& work, const std::string& layer);
// A group goes with its layers. A piece that no layer prints any more is hidden.
void removeLayer(work::Work& work, const std::string& layer);
// 1: over the next one, -1: under the one before; into groups and out of them, one step each. A group moves with its layers, over groups.
bool canMoveLayer(const work::Work& work, const std::string& layer, int way);
void moveLayer(work::Work& work, const std::string& layer, int way);
// A layer was moved in the list, from the lowest to the topmost `order` now: between two of a group, or right under it, it is in it.
void dropLayer(work::Work& work, const std::string& layer, const std::vector<std::string>& order);
// A group round a layer, or an empty one over all. Returns it.
std::string addGroup(work::Work& work, const std::string& layer = {});
// It goes, its layers stay.
void dissolveGroup(work::Work& work, const std::string& group);
// Only on these pieces, letters and parts from now on.
void actOnChosen(work::Work& work, const std::string& layer, const Choice& choice);

// What draws where a layer acts.
struct Brush {
    double size = 0;  // pt, across; 0: as it usually is on this sheet
    double softness = 0.5;
    bool erases = false;

    double sizeOn(const work::SheetSize& sheet) const { return size > 0 ? size : sheet.widthPt() / 12; }
};
// One more stroke of a layer's mask; points are pt from the sheet's middle, y up.
void addStroke(work::Work& work, const std::string& layer, const std::vector<base::Vec2>& points, const Brush& brush);

}  // namespace session
