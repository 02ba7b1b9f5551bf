// The layers of the finish: a list to switch, order, name and take away, and the values of the one that is chosen there.
#pragma once

#include "app/ticket/section.h"

namespace app {

void addLayerRows(Rows* rows, const Context& context);

}  // namespace app
