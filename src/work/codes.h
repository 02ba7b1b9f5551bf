// Codes for machines, as flat shapes: QR (ISO/IEC 18004) and EAN-13 (ISO/IEC 15420), by a library.
#pragma once

#include "base/result.h"
#include "finish/layers.h"

namespace work {

struct CodeShapes {
    std::shared_ptr<const finish::FlatShape> bars;   // with the digits under an EAN's
    std::shared_ptr<const finish::FlatShape> field;  // with the quiet zones
};

// Both 1 wide, their middle at (0, 0), y up. The last kMostCodes are kept: asked again they cost nothing. From any thread. Errors: BadInput
// for text that such a code cannot say, with what it can.
inline constexpr std::size_t kMostCodes = 64;
base::Result<CodeShapes> codeOf(finish::CodeForm form, const std::string& text);

}  // namespace work
