// open-glow-picture-reader [surroundings] < FILE > PIXELS: as open-glow-reader, for pictures that lie on materials, whole and of all kinds
// (texture_input.h), or show what is all round (panorama_input.h). A program of its own, because the library that reads them takes twenty
// times as long to start as everything that artwork needs.
#include <string_view>

#include "reader/limits.h"
#include "reader/panorama_input.h"
#include "reader/texture_input.h"

int main(int argc, char** argv)
{
    const bool round = argc > 1 && std::string_view(argv[1]) == "surroundings";
    return reader::readUnderLimits(20, 2, "picture", round ? reader::readPanorama : reader::readTexture);
}
