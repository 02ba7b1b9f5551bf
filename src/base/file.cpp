#include "base/file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <random>

namespace base {

namespace {

namespace fs = std::filesystem;

constexpr int kMostLinks = 40;             // followed one after the other, as the system does
constexpr std::size_t kLongestStem = 200;  // of a temporary name, so that it stays under the system's 255 bytes
constexpr const char* kEnding = ".part";

tl::unexpected<Error> cannotWrite(const std::string& path, const std::string& why,
                                  const char* remedy = "choose another place or free some room")
{
    return fail(ErrorCode::CannotWrite, fmt::format("This file cannot be written ({}); {}", why, remedy), path);
}

tl::unexpected<Error> cannotWrite(const std::string& path, int error)
{
    return cannotWrite(path, std::strerror(error));
}

fs::path folderOf(const std::string& path)
{
    const fs::path folder = fs::path(path).parent_path();
    return folder.empty() ? fs::path(".") : folder;
}

std::string stemFor(const std::string& path)
{
    return "." + fs::path(path).filename().string().substr(0, kLongestStem) + ".";
}

// What a process that was killed left beside this place: nobody holds its lock.
void clearLeftovers(const std::string& path)
{
    const std::string stem = stemFor(path);
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folderOf(path), error)) {
        const std::string name = entry.path().filename().string();
        if (!name.starts_with(stem) || !name.ends_with(kEnding))
            continue;
        const int file = ::open(entry.path().c_str(), O_RDWR | O_CLOEXEC | O_NOFOLLOW | O_NONBLOCK);
        struct stat status {};
        if (file >= 0 && fstat(file, &status) == 0 && S_ISREG(status.st_mode) && status.st_uid == geteuid() &&
            flock(file, LOCK_EX | LOCK_NB) == 0)
            ::unlink(entry.path().c_str());
        if (file >= 0)
            ::close(file);
    }
}

}  // namespace

Result<std::vector<std::uint8_t>> readFile(const std::string& path, std::uint64_t mostBytes)
{
    const auto cannot = [&](const std::string& why) {
        return fail(ErrorCode::CannotRead, fmt::format("This file cannot be read ({}); check its name and your rights", why), path);
    };
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);  // a pipe is not waited for
    if (file < 0)
        return cannot(std::strerror(errno));
    struct stat status {};
    if (fstat(file, &status) != 0 || !S_ISREG(status.st_mode)) {
        ::close(file);
        return cannot(S_ISDIR(status.st_mode) ? "it is a folder" : "it is no plain file");
    }
    if (static_cast<std::uint64_t>(status.st_size) > mostBytes) {
        ::close(file);
        return fail(ErrorCode::TooLarge, fmt::format("This file is larger than {} MB; choose a smaller one", mostBytes >> 20), path);
    }
    std::vector<std::uint8_t> bytes(static_cast<std::size_t>(status.st_size));
    std::size_t done = 0;
    while (done < bytes.size()) {
        const ssize_t n = ::read(file, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR)
            continue;
        if (n < 0) {
            const std::string why = std::strerror(errno);
            ::close(file);
            return cannot(why);
        }
        if (n == 0)
            break;
        done += static_cast<std::size_t>(n);
    }
    ::close(file);
    bytes.resize(done);
    return bytes;
}

Result<std::string> writablePlace(const std::string& path)
{
    fs::path place = path;
    std::error_code error;
    for (int links = 0; fs::is_symlink(fs::symlink_status(place, error)); ++links) {
        if (links == kMostLinks)
            return cannotWrite(path, ELOOP);
        const fs::path next = fs::read_symlink(place, error);
        if (error)
            return cannotWrite(path, error.message());
        place = next.is_absolute() ? next : place.parent_path() / next;
    }
    struct stat status {};
    if (::lstat(place.c_str(), &status) == 0) {
        if (!S_ISREG(status.st_mode))
            return cannotWrite(path, S_ISDIR(status.st_mode) ? "it is a folder" : "it is no plain file", "choose another name");
        if (::access(place.c_str(), W_OK) != 0)
            return cannotWrite(path, errno == EACCES ? std::string("it is write-protected") : std::string(std::strerror(errno)));
    } else if (errno != ENOENT) {
        return cannotWrite(path, errno);
    } else if (::access(folderOf(place.string()).c_str(), W_OK) != 0) {
        return cannotWrite(path, errno);
    } else if (place.filename().empty()) {
        return cannotWrite(path, "it has no name", "choose a name");
    }
    return place.string();
}

Result<FileWriter> FileWriter::open(const std::string& path)
{
    auto target = writablePlace(path);
    if (!target)
        return tl::unexpected<Error>(target.error());
    clearLeftovers(*target);
    struct stat old {};
    const bool isNew = ::stat(target->c_str(), &old) != 0;
    FileWriter writer;
    writer.m_path = path;
    writer.m_target = *target;
    int file = -1;
    std::random_device random;
    for (int attempt = 0; file < 0 && attempt < 100; ++attempt) {
        writer.m_temporary = (folderOf(*target) / fmt::format("{}{:08x}{}", stemFor(*target), random(), kEnding)).string();
        file = ::open(writer.m_temporary.c_str(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, isNew ? 0666 : 0600);
        if (file < 0 && errno != EEXIST)
            break;
    }
    if (file < 0) {
        writer.m_temporary.clear();
        return cannotWrite(path, errno);
    }
    flock(file, LOCK_EX | LOCK_NB);  // it is being written: not to be cleared away
    if (!isNew) {
        // Owner first: a change of owner takes rights away. Both are tried; where the system does not allow it the file is ours.
        if (::fchown(file, old.st_uid, old.st_gid) != 0 && ::fchown(file, static_cast<uid_t>(-1), old.st_gid) != 0)
            errno = 0;
        if (::fchmod(file, old.st_mode & 07777) != 0)
            errno = 0;
    }
    writer.m_file.reset(::fdopen(file, "w+b"));
    if (!writer.m_file) {
        const int error = errno;
        ::close(file);
        return cannotWrite(path, error);
    }
    return writer;
}

FileWriter& FileWriter::operator=(FileWriter&& other) noexcept
{
    drop();
    m_file = std::move(other.m_file);
    m_path = std::move(other.m_path);
    m_target = std::move(other.m_target);
    m_temporary = std::exchange(other.m_temporary, {});
    m_error = other.m_error;
    return *this;
}

FileWriter::~FileWriter()
{
    drop();
}

void FileWriter::drop()
{
    if (m_file && !m_temporary.empty())
        ::unlink(m_temporary.c_str());
    m_file.reset();
}

bool FileWriter::write(const void* data, std::size_t size)
{
    if (!m_file)
        return false;  // it was given up
    errno = 0;
    if (m_error == 0 && size > 0 && std::fwrite(data, 1, size, m_file.get()) != size)
        m_error = errno != 0 ? errno : EIO;
    return m_error == 0;
}

bool FileWriter::seek(std::int64_t offset)
{
    if (!m_file)
        return false;
    if (m_error == 0 && fseeko(m_file.get(), offset, SEEK_SET) != 0)
        m_error = errno;
    return m_error == 0;
}

std::int64_t FileWriter::tell()
{
    return m_file ? ftello(m_file.get()) : -1;
}

Result<void> FileWriter::commit()
{
    if (!m_file)
        return cannotWrite(m_path, m_error);
    errno = 0;
    if (m_error == 0 && (std::fflush(m_file.get()) != 0 || fsync(fileno(m_file.get())) != 0))
        m_error = errno != 0 ? errno : EIO;
    if (m_error == 0 && std::rename(m_temporary.c_str(), m_target.c_str()) != 0)
        m_error = errno;
    if (m_error != 0) {
        drop();
        return cannotWrite(m_path, m_error);
    }
    m_file.reset();
    if (const int fd = ::open(folderOf(m_target).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); fd >= 0) {
        fsync(fd);
        ::close(fd);
    }
    return {};
}

Result<void> replaceFile(const std::string& path, std::span<const std::uint8_t> bytes)
{
    auto writer = FileWriter::open(path);
    if (!writer)
        return tl::unexpected<Error>(writer.error());
    writer->write(bytes.data(), bytes.size());
    return writer->commit();
}

Result<void> replaceFile(const std::string& path, const std::string& text)
{
    return replaceFile(path, std::span(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()));
}

}  // namespace base
