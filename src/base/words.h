// Words that people type.
#pragma once

#include <algorithm>
#include <string_view>

namespace base {

// Equal but for capitals, of A to Z alone.
inline bool sameInAnyCase(std::string_view a, std::string_view b)
{
    const auto small = [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; };
    return std::ranges::equal(a, b, {}, small, small);
}

}  // namespace base
