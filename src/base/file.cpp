#include "base/file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>

namespace base {

namespace {

tl::unexpected<Error> cannotWrite(const std::string& path, int error)
{
    return fail(ErrorCode::CannotWrite, fmt::format("This file cannot be written ({}); choose another place or free some room", std::strerror(error)), path);
}

}  // namespace

Result<std::vector<std::uint8_t>> readFile(const std::string& path, std::uint64_t mostBytes)
{
    const auto cannot = [&] {
        return fail(ErrorCode::CannotRead, fmt::format("This file cannot be read ({}); check its name and your rights", std::strerror(errno)), path);
    };
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0)
        return cannot();
    struct stat status {};
    if (fstat(file, &status) != 0 || S_ISDIR(status.st_mode)) {
        if (S_ISDIR(status.st_mode))
            errno = EISDIR;
        ::close(file);
        return cannot();
    }
    std::vector<std::uint8_t> bytes;
    if (static_cast<std::uint64_t>(status.st_size) > mostBytes) {
        ::close(file);
        return fail(ErrorCode::TooLarge, fmt::format("This file is larger than {} MB; choose a smaller one", mostBytes >> 20), path);
    }
    bytes.resize(static_cast<std::size_t>(status.st_size));
    std::size_t done = 0;
    while (done < bytes.size()) {
        const ssize_t n = ::read(file, bytes.data() + done, bytes.size() - done);
        if (n < 0) {
            ::close(file);
            return cannot();
        }
        if (n == 0)
            break;
        done += static_cast<std::size_t>(n);
    }
    ::close(file);
    bytes.resize(done);
    return bytes;
}

std::string temporaryBeside(const std::string& path)
{
    const std::filesystem::path p(path);
    return (p.parent_path() / fmt::format(".{}.{}.part{}", p.stem().string(), ::getpid(), p.extension().string())).string();
}

void dropTemporary(const std::string& temporary)
{
    ::unlink(temporary.c_str());
}

Result<void> commitTemporary(const std::string& temporary, const std::string& path)
{
    const auto giveUp = [&](int error) {
        dropTemporary(temporary);
        return cannotWrite(path, error);
    };
    const int file = ::open(temporary.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0 || fsync(file) != 0) {
        const int error = errno;
        if (file >= 0)
            ::close(file);
        return giveUp(error);
    }
    ::close(file);
    if (std::rename(temporary.c_str(), path.c_str()) != 0)
        return giveUp(errno);
    const std::filesystem::path folder = std::filesystem::path(path).parent_path();
    if (const int fd = ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); fd >= 0) {
        fsync(fd);
        ::close(fd);
    }
    return {};
}

Result<void> replaceFile(const std::string& path, std::span<const std::uint8_t> bytes)
{
    return replaceFileBy(path, [&](const std::string& temporary) -> Result<void> {
        const int file = ::open(temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
        if (file < 0)
            return cannotWrite(path, errno);
        std::size_t done = 0;
        while (done < bytes.size()) {
            const ssize_t n = ::write(file, bytes.data() + done, bytes.size() - done);
            if (n < 0) {
                const int error = errno;
                ::close(file);
                return cannotWrite(path, error);
            }
            done += static_cast<std::size_t>(n);
        }
        if (::close(file) != 0)
            return cannotWrite(path, errno);
        return {};
    });
}

}  // namespace base
