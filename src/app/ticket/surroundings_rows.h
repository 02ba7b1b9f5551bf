// What comes from all round: even light, or a sky with cards; and surroundings that are ready.
#pragma once

#include "app/ticket/section.h"

namespace app {

void addSurroundingsRows(Rows* rows, Section* section, const Context& context);

}  // namespace app
