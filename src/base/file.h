// Whole files, read and written safely.
#pragma once

#include <cstdint>
#include <cstdio>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "base/result.h"

namespace base {

// Plain files alone: a device or a pipe is refused, not waited for. Errors: CannotRead, TooLarge (over `mostBytes`, asked before
// anything is allocated).
Result<std::vector<std::uint8_t>> readFile(const std::string& path, std::uint64_t mostBytes = 1ull << 32);

// A file on its way: it grows under a name of its own beside its place and takes that place in one step. Whatever happens, a
// complete file stands under the name: the old one or the new one. A full disk is noticed, also when the writing library does
// not ask.
//
// The new file has the rights of the old one (else what umask leaves). A symbolic link is followed, what it points to is
// replaced. Nothing but a plain file is ever replaced. What a killed process left beside the place is cleared away.
class FileWriter {
public:
    // Errors: CannotWrite.
    static Result<FileWriter> open(const std::string& path);
    FileWriter(FileWriter&&) noexcept = default;
    FileWriter& operator=(FileWriter&&) noexcept;
    ~FileWriter();  // without commit() the new file is dropped

    // False once anything went wrong; commit() says what.
    bool write(const void* data, std::size_t size);
    bool seek(std::int64_t offset);
    std::int64_t tell();
    bool failed() const { return m_error != 0; }

    // What is there until now reaches the disk and takes its place. Errors: CannotWrite.
    Result<void> commit();

private:
    FileWriter() = default;
    void drop();
    struct Close {
        void operator()(std::FILE* file) const { std::fclose(file); }
    };
    std::unique_ptr<std::FILE, Close> m_file;
    std::string m_path, m_target, m_temporary;  // as named; where links lead to; until then
    int m_error = 0;
};

// The bytes through a FileWriter. Errors: CannotWrite.
Result<void> replaceFile(const std::string& path, std::span<const std::uint8_t> bytes);
Result<void> replaceFile(const std::string& path, const std::string& text);

// What may be written there: the file links lead to. Errors: CannotWrite when that is no plain file, is write-protected or lies in
// no folder.
Result<std::string> writablePlace(const std::string& path);

}  // namespace base
