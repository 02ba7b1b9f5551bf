// Codes for machines, as flat shapes: QR (ISO/IEC 18004) and EAN-13 (ISO/IEC 15420), by a library.
#pragma once

#include "base/result.h"
#include "finish/layers.h"

namespace work {

struct CodeShapes {
    finish::FlatShape bars;   // with the digits under an EAN's
    finish::FlatShape field;  // with the quiet zones
};

// Both 1 wide, their middle at (0, 0), y up. Errors: BadInput for text that such a code cannot say, with what it can.
base::Result<CodeShapes> codeOf(finish::CodeForm form, const std::string& text);

}  // namespace work
