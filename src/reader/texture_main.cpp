// open-glow-picture-reader < FILE > PIXELS: as open-glow-reader, for pictures that lie on materials, whole and of all kinds
// (texture_input.h). A program of its own, because the library that reads them takes twenty times as long to start as everything that
// artwork needs.
#include "reader/limits.h"
#include "reader/texture_input.h"

int main()
{
    return reader::readUnderLimits(20, 2, "picture", reader::readTexture);
}
