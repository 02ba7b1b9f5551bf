#include "base/memory.h"

#include <sys/resource.h>

#include <algorithm>
#include <fstream>
#include <new>
#include <optional>
#include <sstream>
#include <string>

namespace base {

namespace {

constexpr std::uint64_t kUnlimited = ~std::uint64_t{0};

// The number behind a name in a file of lines such as "MemAvailable:  123 kB" or "inactive_file 456".
std::optional<std::uint64_t> numberNamed(const std::string& path, const std::string& name)
{
    std::ifstream file(path);
    for (std::string line; std::getline(file, line);) {
        std::istringstream words(line);
        std::string key;
        std::uint64_t value = 0;
        if (words >> key >> value && (key == name || key == name + ":"))
            return value;
    }
    return std::nullopt;
}

std::optional<std::uint64_t> numberIn(const std::string& path)
{
    std::ifstream file(path);
    std::uint64_t value = 0;
    return file >> value ? std::optional(value) : std::nullopt;  // "max" is no number
}

std::uint64_t left(std::uint64_t most, std::uint64_t used)
{
    return most > used ? most - used : 0;
}

// What a group of processes may still take. Files it has read can be given back.
std::uint64_t leftInGroup(const std::string& folder, const char* most, const char* used, const char* files)
{
    const auto limit = numberIn(folder + most), now = numberIn(folder + used);
    if (!limit || !now)
        return kUnlimited;
    return left(*limit, left(*now, numberNamed(folder + "/memory.stat", files).value_or(0)));
}

std::uint64_t leftInGroups()
{
    std::uint64_t least = leftInGroup("/sys/fs/cgroup/memory", "/memory.limit_in_bytes", "/memory.usage_in_bytes", "total_inactive_file");
    std::ifstream file("/proc/self/cgroup");
    for (std::string line; std::getline(file, line);)
        if (line.starts_with("0::"))
            for (std::string group = line.substr(3); !group.empty(); group.resize(group.find_last_of('/'))) {
                least = std::min(
                    least, leftInGroup("/sys/fs/cgroup" + (group == "/" ? "" : group), "/memory.max", "/memory.current", "inactive_file"));
                if (group.find_last_of('/') == std::string::npos)
                    break;
            }
    return std::min(least, leftInGroup("/sys/fs/cgroup", "/memory.max", "/memory.current", "inactive_file"));
}

std::uint64_t leftOfOwn()
{
    rlimit limit{};
    if (getrlimit(RLIMIT_AS, &limit) != 0 || limit.rlim_cur == RLIM_INFINITY)
        return kUnlimited;
    return left(limit.rlim_cur, numberNamed("/proc/self/status", "VmSize").value_or(0) * 1024);
}

}  // namespace

std::uint64_t memoryAvailable()
{
    const auto machine = numberNamed("/proc/meminfo", "MemAvailable");
    return std::min({machine ? *machine * 1024 : kUnlimited, leftInGroups(), leftOfOwn()});
}

}  // namespace base
