// How files of others are named in a work.
#pragma once

#include <cctype>
#include <string>

namespace work {

// What a file's name is before its ending, in plain letters.
inline std::string safeStem(const std::string& name, const char* without = "artwork")
{
    std::string stem = name.substr(0, name.find_last_of('.'));
    for (char& c : stem)
        if (!std::isalnum(static_cast<unsigned char>(c)) && c != '-' && c != '_')
            c = '-';
    return stem.empty() ? without : stem.substr(0, 64);
}

// With its dot.
inline std::string endingOf(const std::string& name, const char* without)
{
    const auto dot = name.find_last_of('.');
    return dot == std::string::npos || name.size() - dot > 5 ? std::string(without) : name.substr(dot);
}

}  // namespace work
