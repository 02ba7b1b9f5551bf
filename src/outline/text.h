// Text as people count it: lines and graphemes.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace outline {

// A user-perceived character (extended grapheme cluster, UAX 29). Offsets are bytes of the UTF-8 text.
struct Grapheme {
    std::size_t begin = 0, end = 0;

    bool operator==(const Grapheme&) const = default;
};

// Splits valid UTF-8 into graphemes, line breaks included. O(n).
std::vector<Grapheme> graphemes(std::string_view text);

// True for well-formed UTF-8.
bool isUtf8(std::string_view text);

// Whether a character is seen by itself: no space, format or control character, and no mark over another one.
bool needsGlyph(char32_t character);

// Code points of valid UTF-8 with the byte offset of each.
struct CodePoint {
    char32_t value = 0;
    std::size_t at = 0;
};
std::vector<CodePoint> codePoints(std::string_view text);

}  // namespace outline
