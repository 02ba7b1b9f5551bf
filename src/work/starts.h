// Works to begin with: a word in a set-up that is worth changing.
#pragma once

#include "work/work.h"

namespace work {

struct Start {
    const char* id;     // of its picture, too
    const char* title;  // in words
    Work (*make)(const SheetSize& sheet);
};

inline constexpr int kStarts = 5;
extern const Start kStartList[kStarts];

// The word of every start, to be typed over.
inline constexpr const char* kStartWord = "Kite";

}  // namespace work
