// Small true drawings for the heads of the ticket: what a section holds, seen at a glance.
#pragma once

#include "app/ticket/head.h"
#include "app/ticket/section.h"

namespace app {

// Of a section by its id ("lettering", "form", ...). Each reads the open work when it paints; some microseconds, but for the first
// drawing of a face (its file is opened, some milliseconds).
Drawing drawingOf(const Context& context, const QString& section);

}  // namespace app
