// Whole files, read and written safely.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "base/result.h"

namespace base {

// Errors: CannotRead, TooLarge (over `mostBytes`).
Result<std::vector<std::uint8_t>> readFile(const std::string& path, std::uint64_t mostBytes = 1ull << 32);

// Replaces the file in one step: the bytes go to a new file beside it, reach the disk and take its name. Whatever happens, a
// complete file stands under the name: the old one or the new one. Errors: CannotWrite.
Result<void> replaceFile(const std::string& path, std::span<const std::uint8_t> bytes);

// The same for writers that need a path: `write` gets the name of the new file (same ending). Errors: what `write` says, or
// CannotWrite.
template <class Write>
Result<void> replaceFileBy(const std::string& path, Write write);

// Parts of replaceFileBy.
std::string temporaryBeside(const std::string& path);
Result<void> commitTemporary(const std::string& temporary, const std::string& path);
void dropTemporary(const std::string& temporary);

template <class Write>
Result<void> replaceFileBy(const std::string& path, Write write)
{
    const std::string temporary = temporaryBeside(path);
    if (Result<void> written = write(temporary); !written) {
        dropTemporary(temporary);
        return written;
    }
    return commitTemporary(temporary, path);
}

}  // namespace base
