// Forms to begin with, each shown on the first letter of what is chosen, and those a designer keeps.
#pragma once

#include "app/ticket/section.h"

namespace app {

QWidget* formStarts(const Context& context);

}  // namespace app
