// Light set-ups to begin from, each shown on the first letter, and those a designer keeps.
#pragma once

#include "app/ticket/section.h"

namespace app {

QWidget* lightSetups(const Context& context);

}  // namespace app
