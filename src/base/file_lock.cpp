#include "base/file_lock.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <map>
#include <mutex>

namespace base {

namespace {

// What this process has locked, by device and node. Locks are taken and found under the mutex.
struct Taken {
    std::mutex mutex;
    std::map<std::pair<dev_t, ino_t>, std::weak_ptr<FileLock>> locks;
};

Taken& taken()
{
    static Taken s_taken;
    return s_taken;
}

}  // namespace

Result<std::shared_ptr<FileLock>> FileLock::take(const std::string& path)
{
    const auto cannot = [&] {
        return fail(ErrorCode::CannotRead, fmt::format("This cannot be opened ({}); check its name and your rights", std::strerror(errno)),
                    path);
    };
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (file < 0)
        return cannot();
    struct stat status {};
    if (fstat(file, &status) != 0) {
        ::close(file);
        return cannot();
    }
    Taken& all = taken();
    const std::lock_guard guard(all.mutex);
    std::erase_if(all.locks, [](const auto& lock) { return lock.second.expired(); });
    std::weak_ptr<FileLock>& own = all.locks[{status.st_dev, status.st_ino}];
    if (auto lock = own.lock()) {
        ::close(file);
        return lock;
    }
    if (flock(file, LOCK_EX | LOCK_NB) != 0) {
        const bool busy = errno == EWOULDBLOCK;
        ::close(file);
        return busy ? fail(ErrorCode::Busy, "Another Open Glow is at work on this; wait for it to end, or name another place", path)
                    : cannot();
    }
    std::shared_ptr<FileLock> lock(new FileLock(file));
    own = lock;
    return lock;
}

FileLock::~FileLock()
{
    ::close(m_file);
}

}  // namespace base
