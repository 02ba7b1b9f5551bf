// Fonts that travel with a work.
#pragma once

#include "work/cache.h"
#include "work/work.h"

namespace work {

struct FontWithFile {
    FontChoice choice;  // names `choice.asset`
    Asset asset;
    bool exact = true;  // false: a stand-in for what is not on this machine
};

// A face found on this machine by family and style, or a font file, with its bytes and licence. Errors: CannotRead, BadInput for
// what is no font.
base::Result<FontWithFile> fontOnMachine(const std::string& family, const std::string& style);
base::Result<FontWithFile> fontNamed(const std::string& name);  // "Bebas Neue Bold"
base::Result<FontWithFile> fontFromFile(const std::string& path);

// What a picture of the work depends on in its fonts: their contents' names, a line each. Those that do not travel with the work are
// read from this machine.
std::string fontContents(const Work& work);

// Drops fonts, artwork and pictures that nothing names any more: what a saved work leaves out. An open one keeps them for its history.
void dropUnusedAssets(Work& work);

}  // namespace work
