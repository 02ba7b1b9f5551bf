// What the programs that read files of others have in common: limits, standard input and output, and errors as sentences.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "base/result.h"

namespace reader {

// Sets the limits, reads standard input whole (64 MB at most) and writes what `read` makes of it. Returns the program's exit status: 0, or
// 1 with a sentence on standard error. `what`: how the file is called there.
int readUnderLimits(int cpuSeconds, int gigabytes, const std::string& what,
                    const std::function<base::Result<std::string>(const std::vector<std::uint8_t>& bytes)>& read);

}  // namespace reader
