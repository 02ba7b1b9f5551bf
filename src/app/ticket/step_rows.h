// The steps on a piece's outlines: a list to switch, order and take away, and the values of the one that is chosen there.
#pragma once

#include "app/ticket/section.h"

namespace app {

void addStepsRows(Rows* rows, const Context& context);

}  // namespace app
