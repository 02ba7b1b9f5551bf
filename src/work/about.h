// What is said of a value: the words of the table of properties, see properties.h.
#pragma once

#include <string>
#include <string_view>

#include "solid/profile.h"

namespace work {

// What a number counts. Lengths are kept in pt, shares from 0 to 1.
enum class Kind { Plain, Length, Angle, Percent, Stops, Seconds, Kelvin };

// What a change of a value makes anew: everything from here on.
enum class Counts {
    Exposure,  // the film
    Desk,      // how its lights are mixed
    Finish,    // how it is developed
    Never,     // it is not seen in the picture
};

struct About {
    const char* key;    // in the file
    const char* label;  // of its row
    const char* what;   // one sentence for the row, the schema and errors
    Counts counts = Counts::Exposure;
    bool applies = true;  // it means something beside the values round it; else it has no row
};

struct Number : About {
    Kind kind = Kind::Plain;
    double least = 0, most = 0;
    double step = 1;     // of the arrow keys, in the unit that is shown
    int decimals = 1;    // shown
    bool grows = false;  // with the sheet, as a length on it

    constexpr Number in(double stepSize, int places) const
    {
        Number n = *this;
        n.step = stepSize;
        n.decimals = places;
        return n;
    }
    constexpr Number when(bool condition) const
    {
        Number n = *this;
        n.applies = condition;
        return n;
    }
    constexpr Number from(double value) const
    {
        Number n = *this;
        n.least = value;
        return n;
    }
    constexpr Number at(Counts stage) const
    {
        Number n = *this;
        n.counts = stage;
        return n;
    }
};

struct Text : About {
    std::size_t mostBytes = 1000;
    std::string (*wrong)(const std::string& text) = nullptr;  // what is wrong with it, or ""
};

// Text that is a profile, or empty.
constexpr Text profile(const char* key, const char* label, const char* what)
{
    return {{key, label, what}, 5000, [](const std::string& path) {
                const auto nodes = path.empty() ? std::vector<solid::ProfileNode>() : solid::readProfile(path);
                return nodes ? std::string() : nodes.error().message;
            }};
}

constexpr Number plain(const char* key, const char* label, const char* what, double least, double most)
{
    return {{key, label, what}, Kind::Plain, least, most, 1, 1};
}
constexpr Number count(const char* key, const char* label, const char* what, double least, double most)
{
    return {{key, label, what}, Kind::Plain, least, most, 1, 0};
}
// Lengths grow with the sheet.
constexpr Number length(const char* key, const char* label, const char* what, double least, double most)
{
    return {{key, label, what}, Kind::Length, least, most, 1, 1, true};
}
constexpr Number place(const char* key, const char* label, const char* what)
{
    return length(key, label, what, -1e6, 1e6);
}
constexpr Number angle(const char* key, const char* label, const char* what, double least = -36000, double most = 36000)
{
    return {{key, label, what}, Kind::Angle, least, most, 1, 1};
}
constexpr Number share(const char* key, const char* label, const char* what, double most = 1)
{
    return {{key, label, what}, Kind::Percent, 0, most, 0.01, 0};
}
constexpr Number stops(const char* key, const char* label, const char* what, Counts counts)
{
    return {{key, label, what, counts}, Kind::Stops, -20, 20, 0.1, 2};
}

// Of light; white is illuminant D65's.
constexpr Number temperature(const char* what)
{
    return {{"kelvin", "Temperature", what, Counts::Desk}, Kind::Kelvin, 1000, 25000, 100, 0};
}

// A value of an enum: its name in the file and in rows.
template <class E>
struct Named {
    E value;
    const char* name;
    const char* label;
};

// Names of the alternatives of a variant, in the file and in rows, in their order; Newer comes last and has none.
struct KindName {
    const char* name;
    const char* label;
};
template <class Variant>
struct Kinds;

}  // namespace work
