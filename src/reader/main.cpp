// open-glow-reader svg|pdf|picture|texture [PAGE] < FILE > DRAWING: reads artwork that may be hostile in a process of its own, with limits
// on time, memory and output. Exit status 0 with a drawing (see outline/drawing.h), of a picture with its greys (outline/trace.h), of a
// texture with its pixels (inputs.h), 1 with a sentence on standard error.
#include <sys/resource.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>

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

// What it makes of the file.
base::Result<std::string> read(const std::string& kind, const std::vector<std::uint8_t>& bytes, int page)
{
    if (kind == "texture")
        return reader::readTexture(bytes);
    if (kind == "picture")
        return reader::readPicture(bytes).map(outline::pgmOf);
    return (kind == "pdf" ? reader::readPdf(bytes, page) : reader::readSvg(bytes)).map(outline::svgOf);
}

}  // namespace

int main(int argc, char** argv)
{
    const std::string kind = argc > 1 ? argv[1] : "";
    if (kind != "svg" && kind != "pdf" && kind != "picture" && kind != "texture")
        return failed("Usage: open-glow-reader svg|pdf|picture|texture [PAGE] < FILE > DRAWING");
    const bool isTexture = kind == "texture";  // whole, with all its pixels
    limit(RLIMIT_CORE, 0);
    limit(RLIMIT_FSIZE, 0);  // it writes no files
#ifndef OPEN_GLOW_CHECKED    // sanitizers reserve more and are slow
    limit(RLIMIT_CPU, isTexture ? 20 : 5);
    limit(RLIMIT_AS, rlim_t{isTexture ? 2u : 1u} << 30);
#endif
    std::vector<std::uint8_t> bytes;
    std::uint8_t part[1 << 16];
    while (const std::size_t got = std::fread(part, 1, sizeof part, stdin)) {
        if (bytes.size() + got > kMostInput)
            return failed("The file is larger than 64 MB");
        bytes.insert(bytes.end(), part, part + got);
    }
    try {
        const auto text = read(kind, bytes, argc > 2 ? std::atoi(argv[2]) : 1);
        if (!text)
            return failed(text.error().message);
        return std::fwrite(text->data(), 1, text->size(), stdout) == text->size() && std::fflush(stdout) == 0 ? 0 : 1;
    } catch (const std::bad_alloc&) {
        return failed(isTexture ? "The picture needs more memory than it may take (2 GB); make it smaller"
                                : "The artwork needs more memory than it may take (1 GB)");
    }
}
