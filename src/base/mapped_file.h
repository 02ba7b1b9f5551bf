// A file in memory that survives being cut off.
#pragma once

#include <atomic>
#include <cstdint>
#include <memory>

#include "base/result.h"

namespace base {

// Memory of a file, or of none. When pages of the file go away under it (somebody cuts the file, its disk fails), reading them gives
// zeros instead of ending the program (SIGBUS), and isLost() says so.
class MappedFile {
public:
    // The first `bytes` of an open file, which may be closed afterwards. Errors: CannotRead with errno's words.
    static Result<std::unique_ptr<MappedFile>> map(int file, std::uint64_t bytes, bool writable);
    // Plain memory, all zeros. Errors: TooLarge.
    static Result<std::unique_ptr<MappedFile>> inMemory(std::uint64_t bytes);
    ~MappedFile();
    MappedFile(const MappedFile&) = delete;
    MappedFile& operator=(const MappedFile&) = delete;

    std::uint8_t* data() const { return m_data; }
    std::uint64_t size() const { return m_size; }
    bool isLost() const { return m_lost; }

private:
    MappedFile(void* data, std::uint64_t size, bool isFile);
    std::uint8_t* m_data;
    std::uint64_t m_size;
    bool m_isFile;
    std::atomic<bool> m_lost{false};
    friend struct FaultGuard;
};

}  // namespace base
