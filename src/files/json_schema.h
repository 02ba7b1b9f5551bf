// The table of properties as JSON Schema.
#pragma once

#include <nlohmann/json.hpp>

#include "work/properties.h"

namespace files::json {

using OrderedJson = nlohmann::ordered_json;

using work::About;
using work::describe;
using work::Named;
using work::Number;
using work::Text;

struct Schema {
    OrderedJson properties = OrderedJson::object();
    OrderedJson anyOf;  // of the kinds, when there are several

    template <class T>
    static OrderedJson of()
    {
        Schema inner;
        T value{};
        describe(inner, value);
        OrderedJson schema = {{"type", "object"}, {"properties", std::move(inner.properties)}};
        if (!inner.anyOf.is_null())
            schema["anyOf"] = std::move(inner.anyOf);
        return schema;
    }
    void add(const About& about, OrderedJson schema)
    {
        schema["title"] = about.label;
        schema["description"] = about.what;
        properties[about.key] = std::move(schema);
    }
    template <class N>
    void number(const Number& line, N&)
    {
        add(line, {{"type", "number"}, {"minimum", line.least}, {"maximum", line.most}});
    }
    template <class I>
    void whole(const Number& line, I&)
    {
        add(line,
            {{"type", "integer"}, {"minimum", static_cast<std::int64_t>(line.least)}, {"maximum", static_cast<std::int64_t>(line.most)}});
    }
    void flag(const About& about, bool) { add(about, {{"type", "boolean"}}); }
    void text(const Text& about, std::string&) { add(about, {{"type", "string"}, {"maxLength", about.mostBytes}}); }
    void list(const About& about, std::vector<std::string>&) { add(about, {{"type", "array"}, {"items", {{"type", "string"}}}}); }
    void colour(const About& about, base::Rgb, std::string* swatch)
    {
        add(about,
            {{"oneOf",
              {{{"type", "string"}, {"pattern", "^#?([0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})$"}},
               {{"type", "array"}, {"minItems", 3}, {"maxItems", 3}, {"items", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}}}}}});
        properties[about.key]["description"] = std::string(about.what) + ": sRGB as hex, or three linear numbers";
        if (swatch)
            text({{work::swatchKey(about.key), "Swatch", "Id of the swatch the colour follows, or empty"}}, *swatch);
    }
    template <class E, std::size_t N>
    void oneOf(const About& about, E, const Named<E> (&names)[N])
    {
        OrderedJson values = OrderedJson::array();
        for (const auto& n : names)
            values.push_back(n.name);
        add(about, {{"enum", values}});
    }
    template <class T>
    void object(const About& about, T&)
    {
        add(about, of<T>());
    }
    template <class T>
    void map(const About& about, const char*, work::Ordered<T>&)
    {
        byIds<T>(about);
        std::vector<std::string> none;
        list({(std::string(about.key) + "Order").c_str(), "Order", "Ids in order"}, none);
    }
    template <class T>
    void byIds(const About& about)
    {
        add(about, {{"type", "object"},
                    {"maxProperties", work::kMostThings},
                    {"propertyNames", {{"pattern", "^[A-Za-z0-9_-]{1,64}$"}}},
                    {"additionalProperties", of<T>()}});
    }
    template <class T, class Less>
    void byId(const About& about, std::map<std::string, T, Less>&)
    {
        byIds<T>(about);
    }
    // Other kinds are those of newer versions.
    template <class... T, std::size_t N>
    void kinds(std::variant<T...>&, const work::KindName (&names)[N])
    {
        OrderedJson any = OrderedJson::array(), known = OrderedJson::array();
        for (const work::KindName& name : names)
            known.push_back(name.name);
        std::size_t at = 0;
        const auto add = [&]<class One>(One* one) {
            if constexpr (!std::is_same_v<One, work::Newer>) {
                OrderedJson of = Schema::of<One>();
                of["properties"]["kind"] = {{"const", names[at++].name}};
                any.push_back(std::move(of));
            }
            (void)one;
        };
        (add(static_cast<T*>(nullptr)), ...);
        any.push_back({{"type", "object"}, {"properties", {{"kind", {{"not", {{"enum", known}}}}}}}, {"required", {"kind"}}});
        anyOf = std::move(any);
        properties["kind"] = {{"type", "string"}, {"title", "Kind"}};
    }
    template <class E, std::size_t N>
    bool kind(const About& about, E& v, const Named<E> (&names)[N], std::optional<work::Newer>&)
    {
        oneOf(about, v, names);
        return true;
    }
    template <class T>
    void own(const About& about, std::optional<T>&)
    {
        T value{};
        object(about, value);
    }
};

}  // namespace files::json
