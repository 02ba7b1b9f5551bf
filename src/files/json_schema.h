// The table of properties as JSON Schema.
#pragma once

#include <nlohmann/json.hpp>

#include "work/properties.h"

namespace files::json {

using OrderedJson = nlohmann::ordered_json;

using work::About;
using work::Number;
using work::Text;

struct Schema : work::Visitor {
    OrderedJson properties = OrderedJson::object();
    OrderedJson anyOf;  // of the kinds, when there are several

    template <class T>
    static OrderedJson of()
    {
        T value{};
        return of(work::Thing(value));
    }
    // What is in it is changed.
    static OrderedJson of(const work::Thing& thing)
    {
        Schema inner;
        thing.visit(inner);
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
    void number(const Number& line, const work::NumberAt& v) override
    {
        if (v.isWhole())
            add(line, {{"type", "integer"},
                       {"minimum", static_cast<std::int64_t>(line.least)},
                       {"maximum", static_cast<std::int64_t>(line.most)}});
        else
            add(line, {{"type", "number"}, {"minimum", line.least}, {"maximum", line.most}});
    }
    void flag(const About& about, bool&) override { add(about, {{"type", "boolean"}}); }
    void text(const Text& about, std::string&) override { add(about, {{"type", "string"}, {"maxLength", about.mostBytes}}); }
    void list(const About& about, std::vector<std::string>&) override { add(about, {{"type", "array"}, {"items", {{"type", "string"}}}}); }
    void colour(const About& about, base::Rgb&, std::string* swatch) override
    {
        add(about,
            {{"oneOf",
              {{{"type", "string"}, {"pattern", "^#?([0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})$"}},
               {{"type", "array"}, {"minItems", 3}, {"maxItems", 3}, {"items", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}}}}}});
        properties[about.key]["description"] = std::string(about.what) + ": sRGB as hex, or three linear numbers";
        if (swatch)
            text({{work::swatchKey(about.key), "Swatch", "Id of the swatch the colour follows, or empty"}}, *swatch);
    }
    void oneOf(const About& about, const work::OneOfAt& v) override
    {
        OrderedJson values = OrderedJson::array();
        for (int i = 0; i < v.count(); ++i)
            values.push_back(v.name(i));
        add(about, {{"enum", values}});
    }
    void object(const About& about, const work::Thing& v) override { add(about, of(v)); }
    void own(const About& about, const work::OwnAt& v) override { add(about, of(v.make())); }
    void things(const About& about, const work::ThingsAt& v) override
    {
        v.clear();
        add(about, {{"type", "object"},
                    {"maxProperties", work::kMostThings},
                    {"propertyNames", {{"pattern", "^[A-Za-z0-9_-]{1,64}$"}}},
                    {"additionalProperties", of(v.add("one"))}});
        if (auto* order = v.order())
            list({(std::string(about.key) + "Order").c_str(), "Order", "Ids in order"}, *order);
    }
    // Other kinds are those of newer versions.
    void kinds(const work::KindsAt& v) override
    {
        OrderedJson any = OrderedJson::array(), known = OrderedJson::array();
        for (int i = 0; i < v.count(); ++i) {
            known.push_back(v.name(i));
            v.become(i);
            OrderedJson of = Schema::of(v.thing());
            of["properties"]["kind"] = {{"const", v.name(i)}};
            any.push_back(std::move(of));
        }
        any.push_back({{"type", "object"}, {"properties", {{"kind", {{"not", {{"enum", known}}}}}}}, {"required", {"kind"}}});
        anyOf = std::move(any);
        properties["kind"] = {{"type", "string"}, {"title", "Kind"}};
    }
    bool kind(const About& about, const work::OneOfAt& v, std::optional<work::Newer>&) override
    {
        oneOf(about, v);
        return true;
    }
};

}  // namespace files::json
