// Files and folders that one process at a time may change.
#pragma once

#include <memory>
#include <string>

#include "base/result.h"

namespace base {

// Held as long as anybody has it. Within this process it is shared: who takes it again gets the same one. Other processes see it
// (flock), and it ends with the process however that ends.
class FileLock {
public:
    // Of a file or folder that is there. Errors: CannotRead; Busy when another process has it.
    static Result<std::shared_ptr<FileLock>> take(const std::string& path);
    ~FileLock();
    FileLock(const FileLock&) = delete;
    FileLock& operator=(const FileLock&) = delete;

private:
    explicit FileLock(int file) : m_file(file) {}
    int m_file;
};

}  // namespace base
