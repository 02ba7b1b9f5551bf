// The rows of an artwork in the first section: its shapes to choose from, its size, its file.
#pragma once

#include "app/ticket/section.h"

namespace app {

void addArtworkRows(Section* section, const Context& context);

}  // namespace app
