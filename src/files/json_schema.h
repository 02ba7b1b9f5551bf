// What describe.h describes, as JSON Schema.
#pragma once

#include <nlohmann/json.hpp>

#include "files/describe.h"

namespace files::json {

using Json = nlohmann::ordered_json;

struct Schema {
    Json properties = Json::object();

    template <class T>
    static Json of()
    {
        Schema inner;
        T value{};
        describe(inner, value);
        return {{"type", "object"}, {"properties", std::move(inner.properties)}};
    }
    template <class T>
    void number(const char* key, T&, double min, double max, const char* what)
    {
        properties[key] = {{"type", "number"}, {"minimum", min}, {"maximum", max}, {"description", what}};
    }
    template <class I>
    void whole(const char* key, I&, int min, int max, const char* what)
    {
        properties[key] = {{"type", "integer"}, {"minimum", min}, {"maximum", max}, {"description", what}};
    }
    void flag(const char* key, bool, const char* what) { properties[key] = {{"type", "boolean"}, {"description", what}}; }
    void text(const char* key, std::string&, const char* what) { properties[key] = {{"type", "string"}, {"description", what}}; }
    void list(const char* key, std::vector<std::string>&, const char* what)
    {
        properties[key] = {{"type", "array"}, {"items", {{"type", "string"}}}, {"description", what}};
    }
    void colour(const char* key, base::Rgb, const char* what)
    {
        properties[key] = {{"description", std::string(what) + ": sRGB as hex, or three linear numbers"},
                           {"oneOf",
                            {{{"type", "string"}, {"pattern", "^#?([0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})$"}},
                             {{"type", "array"}, {"minItems", 3}, {"maxItems", 3}, {"items", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}}}}}};
    }
    template <class E, std::size_t N>
    void choice(const char* key, E, const Named<E> (&names)[N], const char* what)
    {
        Json values = Json::array();
        for (const auto& n : names)
            values.push_back(n.name);
        properties[key] = {{"enum", values}, {"description", what}};
    }
    template <class T>
    void object(const char* key, T&, const char* what)
    {
        properties[key] = of<T>();
        properties[key]["description"] = what;
    }
    template <class T>
    void map(const char* key, work::Ordered<T>&, const char*, const char* what)
    {
        byIds<T>(key, what);
        std::vector<std::string> none;
        list((std::string(key) + "Order").c_str(), none, "ids in order");
    }
    template <class T>
    void byIds(const char* key, const char* what)
    {
        properties[key] = {{"type", "object"}, {"description", what}, {"propertyNames", {{"pattern", "^[A-Za-z0-9_-]{1,64}$"}}}, {"additionalProperties", of<T>()}};
    }
    template <class T>
    void byId(const char* key, std::map<std::string, T>&, const char* what) { byIds<T>(key, what); }
    template <class T>
    void own(const char* key, std::optional<T>&, const char* what)
    {
        T value{};
        object(key, value, what);
    }
    template <class T>
    void partMap(const char* key, std::map<solid::Part, T>&, const char* what)
    {
        Json parts = Json::object();
        for (const auto& part : kParts)
            parts[part.name] = of<T>();
        properties[key] = {{"type", "object"}, {"description", what}, {"properties", parts}};
    }
};

}  // namespace files::json
