#include "session/places.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <atomic>
#include <chrono>
#include <cstdlib>
#include <filesystem>

#include "base/hash.h"

namespace session {

namespace {

std::string folder(const char* variable, const char* underHome)
{
    const char* given = std::getenv(variable);
    const char* home = std::getenv("HOME");
    std::filesystem::path path = given && *given == '/' ? std::filesystem::path(given)
                                 : home && *home        ? std::filesystem::path(home) / underHome
                                                        : std::filesystem::path("/tmp");
    path /= "open-glow";
    std::error_code error;
    std::filesystem::create_directories(path, error);  // whoever writes there gets the error
    return path.string();
}

}  // namespace

std::string cacheFolder()
{
    return folder("XDG_CACHE_HOME", ".cache");
}

std::string stateFolder()
{
    return folder("XDG_STATE_HOME", ".local/state");
}

base::Result<std::shared_ptr<base::FileLock>> lockOf(const std::string& path)
{
    const std::filesystem::path own = std::filesystem::path(stateFolder()) / "open";
    std::error_code error;
    std::filesystem::create_directories(own, error);
    const std::string file = (own / base::contentName(path)).string();
    if (const int made = ::open(file.c_str(), O_CREAT | O_RDONLY | O_CLOEXEC | O_NOFOLLOW, 0600); made >= 0)
        ::close(made);
    return base::FileLock::take(file);
}

std::string freshName()
{
    static std::atomic<unsigned> s_count{0};
    const auto now = std::chrono::system_clock::now().time_since_epoch();
    return fmt::format("{:x}-{:x}-{:x}", std::chrono::duration_cast<std::chrono::milliseconds>(now).count(), getpid(), s_count++);
}

}  // namespace session
