// A work as JSON text and back. docs/format.md describes the format, schema() says it formally.
#pragma once

#include <string>

#include "base/result.h"
#include "work/work.h"

namespace files {

inline constexpr int kFormatVersion = 2;

// The JSON of a work, without the bytes of its assets. Keys this version does not know are written back. Always valid.
std::string toJson(const work::Work& work);

// Reads a work; missing keys take their usual values. Errors: BadInput; the place is a JSON pointer and the message says what
// is allowed. Unknown keys are kept in Work::kept. What can be mended is, and told in `notes`: keys and letter ids that come twice, an
// order that does not fit, a nextId that is too small.
base::Result<work::Work> fromJson(const std::string& json, base::Notes* notes = nullptr);

// Sets the value at a JSON pointer (RFC 6901). `value` is JSON; anything that is no JSON counts as text. A changed text keeps the ids
// of the letters that stay. Errors: BadInput; the work is then unchanged.
base::Result<work::Work> withValueAt(const work::Work& work, const std::string& pointer, const std::string& value);

// Names what a film file was exposed for: the work without what comes after the film or says when to stop, the contents of its fonts,
// and the seed. Fonts that do not travel with the work are read.
std::string filmKey(const work::Work& work, std::uint32_t seed);

// JSON Schema (draft 2020-12) of the format.
std::string schema();

}  // namespace files
