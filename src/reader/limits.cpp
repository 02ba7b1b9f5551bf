#include "reader/limits.h"

#include <fmt/format.h>
#include <sys/resource.h>

#include <cstdio>
#include <new>

namespace reader {

namespace {

constexpr std::size_t kMostInput = 64u << 20;  // bytes

void limit(int what, rlim_t most)
{
    const rlimit both{most, most};
    setrlimit(static_cast<decltype(RLIMIT_CPU)>(what), &both);
}

int failed(const std::string& sentence)
{
    std::fprintf(stderr, "%s\n", sentence.c_str());
    return 1;
}

}  // namespace

int readUnderLimits([[maybe_unused]] int cpuSeconds, int gigabytes, const std::string& what,
                    const std::function<base::Result<std::string>(const std::vector<std::uint8_t>& bytes)>& read)
{
    limit(RLIMIT_CORE, 0);
    limit(RLIMIT_FSIZE, 0);  // it writes no files
#ifndef OPEN_GLOW_CHECKED    // sanitizers reserve more and are slow
    limit(RLIMIT_CPU, static_cast<rlim_t>(cpuSeconds));
    limit(RLIMIT_AS, static_cast<rlim_t>(gigabytes) << 30);
#endif
    std::vector<std::uint8_t> bytes;
    std::uint8_t part[1 << 16];
    while (const std::size_t got = std::fread(part, 1, sizeof part, stdin)) {
        if (bytes.size() + got > kMostInput)
            return failed("The file is larger than 64 MB");
        bytes.insert(bytes.end(), part, part + got);
    }
    try {
        const auto text = read(bytes);
        if (!text)
            return failed(text.error().message);
        return std::fwrite(text->data(), 1, text->size(), stdout) == text->size() && std::fflush(stdout) == 0 ? 0 : 1;
    } catch (const std::bad_alloc&) {
        return failed(fmt::format("The {} needs more memory than it may take ({} GB)", what, gigabytes));
    }
}

}  // namespace reader
