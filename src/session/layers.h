// Layers of the finish by hand: what the ticket's list does, and the words for it.
#pragma once

#include <string>

#include "session/choice.h"

namespace session {

std::string layerTitle(const work::Layer& layer);
// "on all pieces but the face of KITE".
std::string whereText(const work::Work& work, const work::Layer& layer);

// Over the layer `below`, or over all. Returns its id.
std::string addLayer(work::Work& work, std::size_t kind, const std::string& below = {});
std::string duplicateLayer(work::Work& work, const std::string& layer);
void removeLayer(work::Work& work, const std::string& layer);
bool canMoveLayer(const work::Work& work, const std::string& layer, int way);
void moveLayer(work::Work& work, const std::string& layer, int way);  // 1: over the next one, -1: under the one before
// Only on these pieces, letters and parts from now on.
void actOnChosen(work::Work& work, const std::string& layer, const Choice& choice);

}  // namespace session
