// What a section of the ticket says when it is closed: what is set there, in plain words.
#pragma once

#include <string>

#include "session/choice.h"
#include "session/quantity.h"

namespace session {

// Lettering, Form and Material speak of what is chosen. Lengths are shown in `unit`.
std::string letteringSummary(const work::Work& work, const Choice& choice);
std::string sidesSummary(const work::Work& work, const Choice& choice);
std::string alongSummary(const work::Work& work, const Choice& choice);
std::string formSummary(const work::Work& work, const Choice& choice, const LengthUnit& unit);
// What lies over a material's base: "coated, sheen", or "".
std::string layersText(const work::Material& material);
// "f/2.8", or "all sharp".
std::string lensText(const work::View& view);
// "disc, grid 30°".
std::string beamText(const work::Light& light);
std::string surroundingsText(const work::Surroundings& surroundings);
// Why a place of this material is seen in another colour than was typed, in a word or two; empty where both are nearly the same. Both
// linear.
std::string whySeenOtherwise(const work::Material& material, base::Rgb typed, base::Rgb seen);
std::string patternText(const work::Material& material);
// The picture of its colour, and what else comes from pictures: "kite.png", "relief, cut out"; empty without.
std::string picturesText(const work::Pictures& pictures);
std::string furtherPicturesText(const work::Pictures& pictures);
// How light goes through it, empty if none does.
std::string throughText(const work::Material& material);
std::string materialSummary(const work::Work& work, const Choice& choice);
std::string sheetSummary(const work::Work& work);
std::string groundSummary(const work::Work& work, const LengthUnit& unit);
std::string viewSummary(const work::Work& work);
std::string lightSummary(const work::Work& work);
std::string finishSummary(const work::Work& work);
std::string exportSummary(const work::Work& work);

// "Chosen: KITE FAIR" or "Chosen: K, I of KITE FAIR"; "Nothing is chosen".
std::string choiceTitle(const work::Work& work, const Choice& choice);

// "at 64 samples", "when clean", "after 10 s": rules joined by "or".
std::string stopSentence(const render::StopRule& rule);
// "12 s", "3 min", "2 h 10 min".
std::string durationText(double seconds);

}  // namespace session
