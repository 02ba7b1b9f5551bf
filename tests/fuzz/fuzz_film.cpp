// Film files: their shape, and all their pixels.
#include <unistd.h>

#include <cstdio>
#include <string>

#include "film/film.h"
#include "fuzz/target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static const std::string s_path = "/tmp/open-glow-fuzz-" + std::to_string(getpid()) + ".film";
    std::FILE* file = std::fopen(s_path.c_str(), "wb");
    if (!file)
        return 0;
    std::fwrite(data, 1, size, file);
    std::fclose(file);
    const auto film = film::Film::openToRead(s_path, "fuzz");
    if (film) {
        const film::FilmShape& s = (*film)->shape();
        float sum = 0;
        for (int y = s.regionY; y < s.regionY + s.regionHeight; ++y)
            for (int x = s.regionX; x < s.regionX + s.regionWidth; ++x)
                sum += (*film)->at(x, y).halves[0]->alpha;
        volatile float kept = sum;
        (void)kept;
    }
    std::remove(s_path.c_str());
    return 0;
}
