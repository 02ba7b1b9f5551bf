// open-glow-reader svg|pdf [PAGE] < FILE > DRAWING: reads artwork that may be hostile in a process of its own, with limits on time, memory
// and output. Exit status 0 with a drawing (see outline/drawing.h), 1 with a sentence on standard error.
#include <sys/resource.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <cstring>

#include "reader/inputs.h"

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

int main(int argc, char** argv)
{
    const bool isPdf = argc > 1 && std::strcmp(argv[1], "pdf") == 0;
    if (argc < 2 || (!isPdf && std::strcmp(argv[1], "svg") != 0))
        return failed("Usage: open-glow-reader svg|pdf [PAGE] < FILE > DRAWING");
    limit(RLIMIT_CORE, 0);
    limit(RLIMIT_FSIZE, 0);  // it writes no files
#ifndef OPEN_GLOW_CHECKED    // sanitizers reserve more and are slow
    limit(RLIMIT_CPU, 5);
    limit(RLIMIT_AS, rlim_t{1} << 30);
#endif
    std::vector<std::uint8_t> bytes;
    std::uint8_t part[1 << 16];
    while (const std::size_t got = std::fread(part, 1, sizeof part, stdin)) {
        if (bytes.size() + got > kMostInput)
            return failed("The file is larger than 64 MB");
        bytes.insert(bytes.end(), part, part + got);
    }
    try {
        const auto drawing = isPdf ? reader::readPdf(bytes, argc > 2 ? std::atoi(argv[2]) : 1) : reader::readSvg(bytes);
        if (!drawing)
            return failed(drawing.error().message);
        const std::string text = outline::svgOf(*drawing);
        return std::fwrite(text.data(), 1, text.size(), stdout) == text.size() && std::fflush(stdout) == 0 ? 0 : 1;
    } catch (const std::bad_alloc&) {
        return failed("The artwork needs more memory than it may take (1 GB)");
    }
}
