// What is done with all values of a work by the table of properties.
#pragma once

#include <variant>

#include "work/properties.h"

namespace work {

// Brings every value into its range, in place: a work that was kept in range can be saved and opened again. O(values).
void clamp(Work& work);

// All lengths on the sheet grow by a factor; the sheet itself stays. O(values).
void grow(Work& work, double factor);
void grow(Piece& piece, double factor);

// Changes in `work` what differs between `from` and `to`, value by value, and nothing else: places, sources, forms and letters of pieces,
// lights, cards, strokes of layers and the view. What is no longer in `work` is left out. O(values that differ).
void applyDifference(Work& work, const Work& from, const Work& to);

// Puts what counts later than the exposure to something neutral: works that differ there alone become equal. O(values).
void dropLaterThanExposure(Work& work);

// Of all numbers of a form.
std::uint64_t hashOf(const Form& form);

// A colour somewhere in the work and the swatch it may follow.
struct ColourUse {
    Rgb& colour;
    std::string& swatch;
};
// All of them, to be used while the work stays as it is.
std::vector<ColourUse> colourUses(Work& work);
// Every colour that is used once, in the order of their first use; to 8 bits.
std::vector<Rgb> coloursOf(const Work& work);

// One value of a struct with its line of the table. `at` points into the struct it was found in.
struct ColourAt {
    Rgb* colour = nullptr;
    std::string* swatch = nullptr;  // nullptr: it follows none
};
struct Value {
    Number number;  // the whole line for numbers; for others key, label, what, counts and applies
    std::variant<std::monostate, NumberAt, bool*, std::string*, OneOfAt, ColourAt> at;

    bool isNumber() const { return std::holds_alternative<NumberAt>(at); }
    double asNumber() const { return isNumber() ? std::get<NumberAt>(at).get() : 0; }
    void setNumber(double value) const;  // clamped, and rounded where it is whole
};

// Values of a struct, not of structs in it. Those beside a kind are found with those round them; beside a kind that only a newer
// version knows nothing more applies.
std::vector<Value> valuesIn(const Thing& thing);
template <class T>
std::vector<Value> valuesIn(T& thing)
{
    return valuesIn(Thing(thing));
}

// The value with this key, which must be in the struct's part of the table.
template <class T>
Value valueIn(T& thing, std::string_view key)
{
    for (Value& value : valuesIn(thing))
        if (key == value.number.key)
            return std::move(value);
    std::abort();  // a misspelt key
}

}  // namespace work
