// What goes through the table of properties (properties.h): it is given every value of a work with what the table says of it.
//
// Values are handed over as what can be done with them, whatever they are: the table is compiled once, not once for each visitor.
#pragma once

#include <cstdint>
#include <functional>
#include <iterator>
#include <optional>
#include <string>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

#include "base/vec.h"
#include "work/about.h"
#include "work/ordered.h"

namespace work {

using base::Rgb;

class Visitor;

// A struct of a work. It points into the work, as all of these do: to be used while the work stays as it is.
class Thing {
public:
    template <class T>
    explicit Thing(T& thing)
        : m_at(&thing),
          m_describe([](Visitor& v, void* at) { describe(v, *static_cast<T*>(at)); }),
          m_reset([](void* at) { *static_cast<T*>(at) = T{}; })
    {
    }
    void visit(Visitor& visitor) const { m_describe(visitor, m_at); }
    void reset() const { m_reset(m_at); }  // to its usual values

private:
    void* m_at;
    void (*m_describe)(Visitor&, void*);
    void (*m_reset)(void*);
};

struct NumberAt {
    std::variant<double*, float*, int*, std::uint32_t*> at;

    template <class N>
    requires std::is_arithmetic_v<N> NumberAt(N& v) : at(&v) {}
    double get() const
    {
        return std::visit([](const auto* v) { return static_cast<double>(*v); }, at);
    }
    // Whole ones are rounded; it must be in the type's range.
    void set(double value) const;
    bool isWhole() const { return at.index() >= 2; }
};

// A value of an enum, with the names of all its values.
class OneOfAt {
public:
    template <class E, std::size_t N>
    OneOfAt(E& value, const Named<E> (&names)[N])
        : m_value(&value),
          m_names(names),
          m_count(static_cast<int>(N)),
          m_get([](const void* at, const void* of, int i) {
              return static_cast<const Named<E>*>(of)[i].value == *static_cast<const E*>(at);
          }),
          m_set([](void* at, const void* of, int i) { *static_cast<E*>(at) = static_cast<const Named<E>*>(of)[i].value; }),
          m_words([](const void* of, int i) {
              const auto& named = static_cast<const Named<E>*>(of)[i];
              return KindName{named.name, named.label};
          })
    {
    }
    int count() const { return m_count; }
    // Place among the names; -1: none of them.
    int get() const
    {
        for (int i = 0; i < m_count; ++i)
            if (m_get(m_value, m_names, i))
                return i;
        return -1;
    }
    void set(int i) const { m_set(m_value, m_names, i); }
    const char* name(int i) const { return m_words(m_names, i).name; }
    const char* label(int i) const { return m_words(m_names, i).label; }

private:
    void* m_value;
    const void* m_names;
    int m_count;
    bool (*m_get)(const void*, const void*, int);
    void (*m_set)(void*, const void*, int);
    KindName (*m_words)(const void*, int);
};

// A struct that may be there or not.
class OwnAt {
public:
    template <class T>
    explicit OwnAt(std::optional<T>& own)
        : m_at(&own),
          m_has([](const void* at) { return static_cast<const std::optional<T>*>(at)->has_value(); }),
          m_thing([](void* at) { return Thing(**static_cast<std::optional<T>*>(at)); }),
          m_make([](void* at) { static_cast<std::optional<T>*>(at)->emplace(); }),
          m_drop([](void* at) { static_cast<std::optional<T>*>(at)->reset(); })
    {
    }
    bool has() const { return m_has(m_at); }
    Thing thing() const { return m_thing(m_at); }  // when it is there
    Thing make() const
    {
        m_make(m_at);
        return thing();
    }
    void drop() const { m_drop(m_at); }

private:
    void* m_at;
    bool (*m_has)(const void*);
    Thing (*m_thing)(void*);
    void (*m_make)(void*);
    void (*m_drop)(void*);
};

// Structs by id, perhaps in an order of their own.
class ThingsAt {
public:
    using Each = std::function<void(const std::string& id, const Thing& thing)>;

    template <class T, class Less>
    explicit ThingsAt(std::map<std::string, T, Less>& things, std::vector<std::string>* inOrder = nullptr)
        : m_at(&things),
          m_order(inOrder),
          m_each([](void* at, const Each& each) {
              for (auto& [id, thing] : *static_cast<std::map<std::string, T, Less>*>(at))
                  each(id, Thing(thing));
          }),
          m_add([](void* at, const std::string& id) { return Thing((*static_cast<std::map<std::string, T, Less>*>(at))[id]); }),
          m_has([](const void* at, const std::string& id) { return static_cast<const std::map<std::string, T, Less>*>(at)->contains(id); }),
          m_clear([](void* at) { static_cast<std::map<std::string, T, Less>*>(at)->clear(); })
    {
    }
    template <class T>
    explicit ThingsAt(Ordered<T>& things) : ThingsAt(things.items, &things.order)
    {
    }
    std::vector<std::string>* order() const { return m_order; }  // nullptr: they have none
    void each(const Each& each) const { m_each(m_at, each); }    // by id
    bool has(const std::string& id) const { return m_has(m_at, id); }
    Thing add(const std::string& id) const { return m_add(m_at, id); }  // not to the order
    void clear() const
    {
        m_clear(m_at);
        if (m_order)
            m_order->clear();
    }

private:
    void* m_at;
    std::vector<std::string>* m_order;
    void (*m_each)(void*, const Each&);
    Thing (*m_add)(void*, const std::string&);
    bool (*m_has)(const void*, const std::string&);
    void (*m_clear)(void*);
};

// One of several structs; Newer comes last and has no name.
class KindsAt {
public:
    template <class... T, std::size_t N>
    KindsAt(std::variant<T...>& kind, const KindName (&names)[N])
        : m_at(&kind),
          m_names(names),
          m_count(static_cast<int>(N)),
          m_index([](const void* at) { return static_cast<int>(static_cast<const std::variant<T...>*>(at)->index()); }),
          m_thing([](void* at) { return std::visit([](auto& what) { return Thing(what); }, *static_cast<std::variant<T...>*>(at)); }),
          m_become([](void* at, int place) {
              auto& v = *static_cast<std::variant<T...>*>(at);
              int i = 0;
              ((i++ == place && !std::holds_alternative<T>(v) ? void(v.template emplace<T>()) : void()), ...);
          }),
          m_newer([](void* at) { return std::get_if<Newer>(static_cast<std::variant<T...>*>(at)); })
    {
        static_assert(sizeof...(T) == N + 1);
    }
    int count() const { return m_count; }  // without Newer
    const char* name(int i) const { return m_names[i].name; }
    int index() const { return m_index(m_at); }
    Thing thing() const { return m_thing(m_at); }
    // The kind of this place, at its usual values; what it holds already it keeps.
    void become(int place) const { m_become(m_at, place); }
    void become(Newer newer) const
    {
        become(m_count);
        *m_newer(m_at) = std::move(newer);
    }
    const Newer* newer() const { return m_newer(m_at); }

private:
    void* m_at;
    const KindName* m_names;
    int m_count;
    int (*m_index)(const void*);
    Thing (*m_thing)(void*);
    void (*m_become)(void*, int);
    Newer* (*m_newer)(void*);
};

// Left as they are, these go through structs in structs and do nothing with values.
class Visitor {
public:
    virtual ~Visitor() = default;
    virtual void number(const Number& line, const NumberAt& v);
    virtual void flag(const About& about, bool& v);
    virtual void text(const Text& about, std::string& v);
    virtual void list(const About& about, std::vector<std::string>& v);
    virtual void oneOf(const About& about, const OneOfAt& v);
    virtual void colour(const About& about, Rgb& v, std::string* swatch);  // nullptr: it follows no swatch
    virtual void object(const About& about, const Thing& v);
    virtual void own(const About& about, const OwnAt& v);
    virtual void things(const About& about, const ThingsAt& v);
    // The alternative's values stand beside "kind".
    virtual void kinds(const KindsAt& v);
    // The same for a struct whose values serve several kinds. False: the rest is not known.
    virtual bool kind(const About& about, const OneOfAt& v, std::optional<Newer>& newer);

    // As the table calls them.
    template <class E, std::size_t N>
    void oneOf(const About& about, E& v, const Named<E> (&names)[N])
    {
        oneOf(about, OneOfAt(v, names));
    }
    template <class E, std::size_t N>
    bool kind(const About& about, E& v, const Named<E> (&names)[N], std::optional<Newer>& newer)
    {
        return kind(about, OneOfAt(v, names), newer);
    }
    template <class T>
    void object(const About& about, T& v)
    {
        object(about, Thing(v));
    }
    template <class T>
    void own(const About& about, std::optional<T>& v)
    {
        own(about, OwnAt(v));
    }
    template <class Things>
    void things(const About& about, Things& v)
    {
        things(about, ThingsAt(v));
    }
};

inline void describe(Visitor&, Newer&) {}

template <class... T>
void describe(Visitor& v, base::Variant<T...>& kind)
{
    v.kinds(KindsAt(kind, Kinds<base::Variant<T...>>::names));
}

}  // namespace work
