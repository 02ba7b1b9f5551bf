// The table of properties as JSON.
#pragma once

#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "work/properties.h"

namespace files::json {

using OrderedJson = nlohmann::ordered_json;

using work::About;
using work::Number;
using work::Text;

struct Writer : work::Visitor {
    OrderedJson out = OrderedJson::object();

    template <class T>
    static OrderedJson of(const T& value)
    {
        return of(work::Thing(const_cast<T&>(value)));  // read only
    }
    static OrderedJson of(const work::Thing& thing)
    {
        Writer inner;
        thing.visit(inner);
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
    void number(const Number& line, const work::NumberAt& v) override
    {
        // Of a float the shortest decimals that give it again.
        const auto* single = std::get_if<float*>(&v.at);
        at(line.key) = single ? ofNumber(std::stod(fmt::format("{}", **single))) : ofNumber(v.get());
    }
    void flag(const About& about, bool& v) override { at(about.key) = v; }
    void text(const Text& about, std::string& v) override { at(about.key) = v; }
    void list(const About& about, std::vector<std::string>& v) override { at(about.key) = v; }
    void colour(const About& about, base::Rgb& v, std::string* swatch) override
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
    void oneOf(const About& about, const work::OneOfAt& v) override
    {
        if (const int i = v.get(); i >= 0)
            at(about.key) = v.name(i);
    }
    void object(const About& about, const work::Thing& v) override { at(about.key) = of(v); }
    void own(const About& about, const work::OwnAt& v) override
    {
        if (v.has())
            at(about.key) = of(v.thing());
    }
    void things(const About& about, const work::ThingsAt& v) override
    {
        OrderedJson inside = OrderedJson::object();
        v.each([&](const std::string& id, const work::Thing& thing) { append(inside, id) = of(thing); });
        at(about.key) = std::move(inside);
        if (const auto* order = v.order())
            append(out, std::string(about.key) + "Order") = *order;
    }
    void newer(const work::Newer& what)
    {
        at("kind") = what.kind;
        const OrderedJson rest = OrderedJson::parse(what.json);
        for (const auto& [key, value] : rest.items())
            at(key.c_str()) = value;
    }
    void kinds(const work::KindsAt& v) override
    {
        if (const auto* unknown = v.newer()) {
            newer(*unknown);
            return;
        }
        at("kind") = v.name(v.index());
        v.thing().visit(*this);
    }
    bool kind(const About& about, const work::OneOfAt& v, std::optional<work::Newer>& isOf) override
    {
        if (isOf)
            newer(*isOf);
        else
            oneOf(about, v);
        return !isOf;
    }
};

}  // namespace files::json
