// The field a dome's height is made of: 0 along the border, smooth inside, and the square of a half round's height over a stroke.
//
// Linear finite elements for  -Laplace(u) + (k / R)^2 u = c  with u = 0 on the border. A stroke of constant width needs c = 2, a disc c =
// 4, a ring something between from place to place: c is 2 less the second derivative of u along its level line, which makes the one across
// it -2 everywhere (the normalised infinity Laplacian), so that strokes, discs and rings become exact rounds alike. That is found by
// solving again, with the matrix factored once; see docs/decisions/016-domes.md.
#pragma once

#include "solid/dome_plan.h"

namespace solid {

struct DomeField {
    // One for each vertex of the plan: u in pt2, its gradient in pt.
    std::vector<double> u;
    std::vector<Vec2> gradient;
    double largest = 0;  // of u
};

struct DomeFieldSettings {
    double screening = 0;  // k, >= 0: over 2 the top grows flat, and thin strokes come up to the height of wide ones
    int rounds = 3;        // of finding c; 0 keeps c = 2
};

// Scaled so that the middle of a straight stroke as wide as the widest has u = R^2, whatever the screening. Errors: Stopped. O(n^1.5).
base::Result<DomeField> solveDome(const DomePlan& plan, const DomeFieldSettings& settings, const base::Progress& progress);

}  // namespace solid
