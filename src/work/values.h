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
// lights, cards and the view. What is no longer in `work` is left out. O(values that differ).
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
class OneOfAt {
public:
    template <class E, std::size_t N>
    OneOfAt(E& value, const Named<E> (&names)[N])
        : m_value(&value),
          m_names(names),
          m_count(static_cast<int>(N)),
          m_get([](const OneOfAt& c) {
              for (int i = 0; i < c.m_count; ++i)
                  if (static_cast<const Named<E>*>(c.m_names)[i].value == *static_cast<const E*>(c.m_value))
                      return i;
              return -1;
          }),
          m_set([](const OneOfAt& c, int i) { *static_cast<E*>(c.m_value) = static_cast<const Named<E>*>(c.m_names)[i].value; }),
          m_label([](const OneOfAt& c, int i) { return static_cast<const Named<E>*>(c.m_names)[i].label; })
    {
    }
    int count() const { return m_count; }
    int get() const { return m_get(*this); }  // place among the labels; -1: none of them
    void set(int i) const { m_set(*this, i); }
    const char* label(int i) const { return m_label(*this, i); }

private:
    void* m_value;
    const void* m_names;
    int m_count;
    int (*m_get)(const OneOfAt&);
    void (*m_set)(const OneOfAt&, int);
    const char* (*m_label)(const OneOfAt&, int);
};
struct ColourAt {
    Rgb* colour = nullptr;
    std::string* swatch = nullptr;  // nullptr: it follows none
};
struct Value {
    Number number;  // the whole line for numbers; for others key, label, what, counts and applies
    std::variant<std::monostate, double*, float*, int*, std::uint32_t*, bool*, std::string*, OneOfAt, ColourAt> at;

    bool isNumber() const { return at.index() >= 1 && at.index() <= 4; }
    double asNumber() const;
    void setNumber(double value) const;  // clamped, and rounded where it is whole
};

// Finds values of a struct, not of structs in it.
struct Find {
    std::vector<Value> found;
    bool isKnown = true;  // false beside a kind that only a newer version knows: then nothing more applies

    void add(const About& about, decltype(Value::at) at)
    {
        Value value;
        static_cast<About&>(value.number) = about;
        value.number.applies = about.applies && isKnown;
        value.at = std::move(at);
        found.push_back(std::move(value));
    }
    template <class N>
    void number(const Number& line, N& v)
    {
        found.push_back({line.when(line.applies && isKnown), &v});
    }
    template <class I>
    void whole(const Number& line, I& v)
    {
        number(line, v);
    }
    void flag(const About& about, bool& v) { add(about, &v); }
    void text(const Text& about, std::string& v) { add(about, &v); }
    void list(const About&, std::vector<std::string>&) {}
    template <class E, std::size_t N>
    void oneOf(const About& about, E& v, const Named<E> (&names)[N])
    {
        add(about, OneOfAt(v, names));
    }
    void colour(const About& about, Rgb& v, std::string* swatch) { add(about, ColourAt{&v, swatch}); }
    template <class T>
    void object(const About&, T&)
    {
    }
    template <class T>
    void own(const About&, std::optional<T>&)
    {
    }
    template <class T, class Less>
    void byId(const About&, std::map<std::string, T, Less>&)
    {
    }
    template <class T>
    void map(const About&, const char*, Ordered<T>&)
    {
    }
    // Values beside a kind are found with those round them.
    template <class Variant, std::size_t N>
    void kinds(Variant& v, const KindName (&)[N])
    {
        std::visit([this](auto& what) { describe(*this, what); }, v);
    }
    template <class E, std::size_t N>
    bool kind(const About& about, E& v, const Named<E> (&names)[N], std::optional<Newer>& newer)
    {
        isKnown = !newer;
        oneOf(about, v, names);
        return true;
    }
};

template <class T>
std::vector<Value> valuesIn(T& thing)
{
    Find find;
    describe(find, thing);
    return std::move(find.found);
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
