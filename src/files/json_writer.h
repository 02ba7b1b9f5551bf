// The table of properties as JSON.
#pragma once

#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "work/properties.h"

namespace files::json {

using OrderedJson = nlohmann::ordered_json;

using work::About;
using work::describe;
using work::Named;
using work::Number;
using work::Text;

struct Writer {
    OrderedJson out = OrderedJson::object();

    template <class T>
    static OrderedJson of(const T& value)
    {
        Writer inner;
        describe(inner, const_cast<T&>(value));
        return std::move(inner.out);
    }
    // Appends without looking for the key: objects may have many.
    OrderedJson& at(const char* key) { return append(out, key); }
    static OrderedJson& append(OrderedJson& object, const std::string& key)
    {
        auto& entries = object.get_ref<OrderedJson::object_t&>();
        entries.push_back({key, OrderedJson()});
        return entries.back().second;
    }
    static OrderedJson ofNumber(double v)
    {
        return v == std::floor(v) && std::abs(v) < 1e15 ? OrderedJson(static_cast<std::int64_t>(v)) : OrderedJson(v);
    }
    void number(const Number& line, double v) { at(line.key) = ofNumber(v); }
    // The shortest decimals that give the same float again.
    void number(const Number& line, float v) { at(line.key) = ofNumber(std::stod(fmt::format("{}", v))); }
    template <class I>
    void whole(const Number& line, I v)
    {
        at(line.key) = v;
    }
    void flag(const About& about, bool v) { at(about.key) = v; }
    void text(const Text& about, const std::string& v) { at(about.key) = v; }
    void list(const About& about, const std::vector<std::string>& v) { at(about.key) = v; }
    void colour(const About& about, base::Rgb v, const std::string* swatch)
    {
        // Hex where that is exact, else three linear numbers.
        OrderedJson& to = at(about.key);
        const std::string hex = picture::hexFromRgb(v);
        if (*picture::rgbFromHex(hex) == v)
            to = hex;
        else
            for (int i = 0; i < 3; ++i)
                to.push_back(std::stod(fmt::format("{}", v[i])));
        if (swatch)
            at(work::swatchKey(about.key)) = *swatch;
    }
    template <class E, std::size_t N>
    void oneOf(const About& about, E v, const Named<E> (&names)[N])
    {
        for (const auto& n : names)
            if (n.value == v)
                at(about.key) = n.name;
    }
    template <class T>
    void object(const About& about, T& v)
    {
        at(about.key) = of(v);
    }
    template <class T>
    void map(const About& about, const char*, work::Ordered<T>& v)
    {
        byId(about, v.items);
        at((std::string(about.key) + "Order").c_str()) = v.order;
    }
    template <class T>
    void own(const About& about, std::optional<T>& v)
    {
        if (v)
            at(about.key) = of(*v);
    }
    template <class T, class Less>
    void byId(const About& about, std::map<std::string, T, Less>& v)
    {
        OrderedJson& to = at(about.key) = OrderedJson::object();
        for (auto& [id, item] : v)
            append(to, id) = of(item);
    }
    void newer(const work::Newer& what)
    {
        at("kind") = what.kind;
        const OrderedJson rest = OrderedJson::parse(what.json);
        for (const auto& [key, value] : rest.items())
            at(key.c_str()) = value;
    }
    template <class... T, std::size_t N>
    void kinds(std::variant<T...>& v, const work::KindName (&names)[N])
    {
        if (const auto* unknown = std::get_if<work::Newer>(&v)) {
            newer(*unknown);
            return;
        }
        at("kind") = names[v.index()].name;
        std::visit([this](auto& what) { describe(*this, what); }, v);
    }
    template <class E, std::size_t N>
    bool kind(const About& about, E& v, const Named<E> (&names)[N], std::optional<work::Newer>& isOf)
    {
        if (isOf)
            newer(*isOf);
        else
            oneOf(about, v, names);
        return !isOf;
    }
};

}  // namespace files::json
