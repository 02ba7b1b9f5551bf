// Finishes to begin with, each shown on the first letter, and those a designer keeps.
#pragma once

#include "app/ticket/section.h"

namespace app {

QWidget* finishStarts(const Context& context);

}  // namespace app
