// What describe.h describes, as JSON.
#pragma once

#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "files/describe.h"

namespace files::json {

using Json = nlohmann::ordered_json;

struct Writer {
    Json out = Json::object();

    template <class T>
    static Json of(const T& value)
    {
        Writer inner;
        describe(inner, const_cast<T&>(value));
        return std::move(inner.out);
    }
    void number(const char* key, double v, double, double, const char*) { out[key] = v == std::floor(v) && std::abs(v) < 1e15 ? Json(static_cast<std::int64_t>(v)) : Json(v); }
    void number(const char* key, float v, double, double, const char*)
    {
        // The shortest decimals that give the same float again.
        number(key, std::stod(fmt::format("{}", v)), 0, 0, "");
    }
    template <class I>
    void whole(const char* key, I v, int, int, const char*) { out[key] = v; }
    void flag(const char* key, bool v, const char*) { out[key] = v; }
    void text(const char* key, const std::string& v, const char*) { out[key] = v; }
    void list(const char* key, const std::vector<std::string>& v, const char*) { out[key] = v; }
    void colour(const char* key, base::Rgb v, const char*)
    {
        // Hex where that is exact, else three linear numbers.
        const std::string hex = picture::hexFromRgb(v);
        if (*picture::rgbFromHex(hex) == v)
            out[key] = hex;
        else
            for (int i = 0; i < 3; ++i)
                out[key].push_back(std::stod(fmt::format("{}", v[i])));
    }
    template <class E, std::size_t N>
    void choice(const char* key, E v, const Named<E> (&names)[N], const char*)
    {
        for (const auto& n : names)
            if (n.value == v)
                out[key] = n.name;
    }
    template <class T>
    void object(const char* key, T& v, const char*) { out[key] = of(v); }
    template <class T>
    void map(const char* key, work::Ordered<T>& v, const char*, const char*)
    {
        out[key] = Json::object();
        for (auto& [id, item] : v.items)
            out[key][id] = of(item);
        out[std::string(key) + "Order"] = v.order;
    }
    template <class T>
    void partMap(const char* key, std::map<solid::Part, T>& v, const char*)
    {
        out[key] = Json::object();
        for (const auto& part : kParts)
            if (const auto found = v.find(part.value); found != v.end())
                out[key][part.name] = of(found->second);
    }
    template <class T>
    void own(const char* key, std::optional<T>& v, const char*)
    {
        if (v)
            out[key] = of(*v);
    }
    template <class T>
    void byId(const char* key, std::map<std::string, T>& v, const char*)
    {
        out[key] = Json::object();
        for (auto& [id, item] : v)
            out[key][id] = of(item);
    }
};

}  // namespace files::json
