// Swatches out of text files of others.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace files {

// The colours of a palette list (.gpl: red, green and blue from 0 to 255 and a name, a line each), of CSS and SVG, and of any list of hex
// values: whatever reads #rgb, #rrggbb or rgb(r, g, b), and lines that are six hex digits alone. In their order, each colour once; named as
// the file does ("--sand: #F3D9B1", "#F3D9B1 Sand"), or after themselves. 256 at most. Errors: CannotRead, BadInput without any colour or
// above 4 MB.
base::Result<std::vector<work::Swatch>> readSwatches(const std::string& path);

}  // namespace files
