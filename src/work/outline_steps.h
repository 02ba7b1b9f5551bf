// The steps on a piece's outlines, taken one after the other.
#pragma once

#include <functional>

#include "outline/steps.h"
#include "work/piece_outlines.h"

namespace work {

// Whether any step but growing is on.
bool isShaped(const Piece& piece);
// How much the outlines of a copy grow, step by step, before anything else is done to them.
std::vector<double> growthsOf(const Piece& piece, int copy);

// Takes the steps that come after the first growths: on the parts where they lie on the piece's plane, letters moved there first. Cuts add
// parts. `shift` is added to them, `other` gives another piece's outlines on this plane (nothing where there are none). Notes:
// "step-unused" where a step no longer fits. The parts are placed then.
struct StepsOn {
    const std::map<std::string, LetterFrame>& frames;  // of the letters that steps go with
    base::Vec2 shift;
    std::function<std::shared_ptr<const outline::Outlined>(const std::string& piece)> other;
    double tolerancePt = 0.1;
};
void takeSteps(const Piece& piece, const StepsOn& on, std::vector<PieceOutlines::Part>& parts, base::Notes& notes);

// Outlines turned about (0, 0) and moved.
outline::Outlined moved(outline::Outlined outlined, double radians, base::Vec2 by);
// Where a letter's flat pose brings them: sized and rolled about their middle, moved.
outline::Outlined placedFlat(const outline::Outlined& outlined, const LetterOwn& own);

}  // namespace work
