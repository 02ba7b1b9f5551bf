// open-glow-reader svg|pdf|picture [PAGE] < FILE > DRAWING: reads artwork that may be hostile in a process of its own, with limits on time,
// memory and output. Exit status 0 with a drawing (see outline/drawing.h), of a picture with its greys (outline/trace.h), 1 with a sentence
// on standard error.
#include <cstdio>
#include <cstdlib>

#include "reader/inputs.h"
#include "reader/limits.h"

int main(int argc, char** argv)
{
    const std::string kind = argc > 1 ? argv[1] : "";
    if (kind != "svg" && kind != "pdf" && kind != "picture") {
        std::fprintf(stderr, "Usage: open-glow-reader svg|pdf|picture [PAGE] < FILE > DRAWING\n");
        return 1;
    }
    const int page = argc > 2 ? std::atoi(argv[2]) : 1;
    return reader::readUnderLimits(5, 1, "artwork", [&](const std::vector<std::uint8_t>& bytes) -> base::Result<std::string> {
        if (kind == "picture")
            return reader::readPicture(bytes).map(outline::pgmOf);
        return (kind == "pdf" ? reader::readPdf(bytes, page) : reader::readSvg(bytes)).map(outline::svgOf);
    });
}
