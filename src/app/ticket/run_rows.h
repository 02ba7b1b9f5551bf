// Rows of what lettering runs along, and of shapes of our own.
#pragma once

#include "app/ticket/section.h"

namespace app {

void addRunRows(Rows* rows, const Context& context);
void addShapeRows(Rows* rows, const Context& context);

}  // namespace app
