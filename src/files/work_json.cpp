#include "files/work_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "files/describe.h"
#include "outline/text.h"
#include "work/scene.h"

namespace files {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "open-glow work";

std::string escaped(std::string key)  // for a JSON pointer
{
    for (std::size_t at = 0; (at = key.find_first_of("~/", at)) != std::string::npos; at += 2)
        key.replace(at, 1, key[at] == '~' ? "~0" : "~1");
    return key;
}

bool isId(const std::string& id)
{
    return !id.empty() && id.size() <= 64 && std::all_of(id.begin(), id.end(), [](unsigned char c) { return std::isalnum(c) || c == '-' || c == '_'; });
}

template <class E, std::size_t N>
std::string namesOf(const Named<E> (&names)[N])
{
    std::string list;
    for (const auto& n : names)
        list += (list.empty() ? "" : ", ") + std::string(n.name);
    return list;
}

// --- writing -----------------------------------------------------------------------------------------------------------------

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

// --- reading -----------------------------------------------------------------------------------------------------------------

struct Reader {
    const Json* in;
    std::string place;
    base::Error* error;

    void fail(const std::string& key, const std::string& message)
    {
        if (error->message.empty())
            *error = {base::ErrorCode::BadInput, message, place + "/" + escaped(key)};
    }
    const Json* find(const char* key)
    {
        const auto found = in->find(key);
        return found == in->end() ? nullptr : &*found;
    }
    template <class T>
    void readNumber(const char* key, T& v, double min, double max, const char* what, bool whole)
    {
        const Json* j = find(key);
        if (!j)
            return;
        const double value = j->is_number() ? j->get<double>() : std::nan("");
        if (!std::isfinite(value) || value < min || value > max || (whole && value != std::floor(value)))
            fail(key, fmt::format("{} is not allowed for {} ({}); give a {}number from {} to {}", j->dump(), key, what, whole ? "whole " : "", min, max));
        else
            v = static_cast<T>(value);
    }
    void number(const char* key, double& v, double min, double max, const char* what) { readNumber(key, v, min, max, what, false); }
    void number(const char* key, float& v, double min, double max, const char* what) { readNumber(key, v, min, max, what, false); }
    template <class I>
    void whole(const char* key, I& v, int min, int max, const char* what) { readNumber(key, v, min, max, what, true); }
    void flag(const char* key, bool& v, const char* what)
    {
        if (const Json* j = find(key)) {
            if (j->is_boolean())
                v = j->get<bool>();
            else
                fail(key, fmt::format("{} is not allowed for {} ({}); give true or false", j->dump(), key, what));
        }
    }
    void text(const char* key, std::string& v, const char* what)
    {
        if (const Json* j = find(key)) {
            if (j->is_string())
                v = j->get<std::string>();
            else
                fail(key, fmt::format("{} is not allowed for {} ({}); give a text in quotes", j->dump(), key, what));
        }
    }
    void list(const char* key, std::vector<std::string>& v, const char* what)
    {
        const Json* j = find(key);
        if (!j)
            return;
        if (j->is_array() && std::all_of(j->begin(), j->end(), [](const Json& e) { return e.is_string(); }))
            v = j->get<std::vector<std::string>>();
        else
            fail(key, fmt::format("{} must be a list of texts ({})", key, what));
    }
    void colour(const char* key, base::Rgb& v, const char* what)
    {
        const Json* j = find(key);
        if (!j)
            return;
        if (j->is_string())
            if (const auto rgb = picture::rgbFromHex(j->get<std::string>())) {
                v = *rgb;
                return;
            }
        const auto isLinear = [](const Json& e) { return e.is_number() && e.get<double>() >= 0 && e.get<double>() <= 1; };
        if (j->is_array() && j->size() == 3 && std::all_of(j->begin(), j->end(), isLinear)) {
            v = {(*j)[0].get<float>(), (*j)[1].get<float>(), (*j)[2].get<float>()};
            return;
        }
        fail(key, fmt::format("{} is no colour for {} ({}); write one like \"#E8664F\"", j->dump(), key, what));
    }
    template <class E, std::size_t N>
    void choice(const char* key, E& v, const Named<E> (&names)[N], const char* what)
    {
        const Json* j = find(key);
        if (!j)
            return;
        if (j->is_string())
            for (const auto& n : names)
                if (j->get<std::string>() == n.name) {
                    v = n.value;
                    return;
                }
        fail(key, fmt::format("{} is not allowed for {} ({}); choose one of {}", j->dump(), key, what, namesOf(names)));
    }
    template <class T>
    void read(const Json& j, const std::string& key, T& v)
    {
        if (!j.is_object()) {
            fail(key, fmt::format("{} must be an object in braces", key));
            return;
        }
        Reader inner{&j, place + "/" + escaped(key), error};
        describe(inner, v);
    }
    template <class T>
    void object(const char* key, T& v, const char*)
    {
        if (const Json* j = find(key))
            read(*j, key, v);
    }
    template <class T>
    void byId(const char* key, std::map<std::string, T>& v, const char*)
    {
        v.clear();
        const Json* j = find(key);
        if (j && !j->is_object())
            fail(key, fmt::format("{} must be an object in braces", key));
        if (!j || !j->is_object())
            return;
        Reader inside{j, place + "/" + key, error};
        for (const auto& [id, item] : j->items()) {
            if (!isId(id))
                inside.fail(id, "An id may have letters, digits, - and _, 64 at most");
            inside.read(item, id, v[id]);
        }
    }
    template <class T>
    void own(const char* key, std::optional<T>& v, const char*)
    {
        v.reset();
        if (const Json* j = find(key))
            read(*j, key, v.emplace());
    }
    template <class T>
    void map(const char* key, work::Ordered<T>& v, const char* what, const char*)
    {
        v = {};
        byId(key, v.items, what);
        const std::string orderKey = std::string(key) + "Order";
        list(orderKey.c_str(), v.order, "ids in order");
        for (std::size_t i = 0; i < v.order.size(); ++i)
            if (!v.items.contains(v.order[i]) || std::count(v.order.begin(), v.order.end(), v.order[i]) > 1)
                fail(orderKey, fmt::format("\"{}\" in {} must name one of {}, once", v.order[i], orderKey, key));
        for (const auto& [id, _] : v.items)
            if (std::find(v.order.begin(), v.order.end(), id) == v.order.end())
                v.order.push_back(id);
    }
    template <class T>
    void partMap(const char* key, std::map<solid::Part, T>& v, const char*)
    {
        v.clear();
        const Json* j = find(key);
        if (j && !j->is_object())
            fail(key, fmt::format("{} must be an object in braces", key));
        if (!j || !j->is_object())
            return;
        Reader inside{j, place + "/" + key, error};
        for (const auto& part : kParts)
            if (const auto found = j->find(part.name); found != j->end())
                inside.read(*found, part.name, v[part.value]);
    }
};

// --- schema ------------------------------------------------------------------------------------------------------------------

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

Json jsonOf(const work::Work& work)
{
    Json j = Json::object();
    j["format"] = kFormat;
    j["version"] = kFormatVersion;
    const Json body = Writer::of(work);
    j.update(body);
    j["assets"] = Json::object();
    for (const auto& [name, asset] : work.assets)
        j["assets"][name] = {{"licence", asset.licence}};
    return j;
}

// What `all` has and `known` has not.
Json unknownIn(const Json& all, const Json& known)
{
    Json rest = Json::object();
    for (const auto& [key, value] : all.items()) {
        const auto found = known.find(key);
        if (found == known.end())
            rest[key] = value;
        else if (value.is_object() && found->is_object())
            if (Json inner = unknownIn(value, *found); !inner.empty())
                rest[key] = std::move(inner);
    }
    return rest;
}

constexpr std::string_view kMaps[] = {"pieces", "lights", "assets", "letters", "views", "swatches"};

// Puts kept keys back, but not below things that are gone: an object of the rest is only entered where its parent is there.
void putBack(Json& out, const Json& rest, bool insideMap)
{
    for (const auto& [key, value] : rest.items()) {
        const auto found = out.find(key);
        if (found == out.end()) {
            if (!insideMap)
                out[key] = value;
        } else if (found->is_object() && value.is_object()) {
            putBack(*found, value, std::ranges::find(kMaps, key) != std::end(kMaps));
        }
    }
}

base::Result<work::Work> workFrom(const Json& j)
{
    const auto bad = [](const std::string& message, const std::string& place) { return base::fail(base::ErrorCode::BadInput, message, place); };
    if (!j.is_object() || j.value("format", Json()) != kFormat)
        return bad("This is not the JSON of an Open Glow work: it must be an object with \"format\": \"open-glow work\"", "/format");
    const auto version = j.find("version");
    if (version == j.end() || !version->is_number_integer() || version->get<std::int64_t>() < 1)
        return bad("The version of the format is missing; it must be a whole number from 1", "/version");
    if (version->get<std::int64_t>() > kFormatVersion)
        return bad(fmt::format("This work was made by a newer Open Glow (format {}, this one reads up to {}); update Open Glow", version->dump(), kFormatVersion), "/version");

    work::Work work;
    work.pieces = {};
    base::Error error;
    Reader reader{&j, "", &error};
    describe(reader, work);
    if (error.message.empty())
        for (auto& [id, piece] : work.pieces.items) {
            const std::string text = piece.lettering.text;
            if (outline::graphemes(text).size() != piece.lettering.letterIds.size())
                work::setText(piece, text);
        }
    if (const auto assets = j.find("assets"); assets != j.end() && error.message.empty()) {
        if (!assets->is_object())
            return bad("assets must be an object in braces", "/assets");
        for (const auto& [name, about] : assets->items()) {
            if (!about.is_object() || (about.contains("licence") && !about["licence"].is_string()))
                return bad("An asset must be an object with a \"licence\" text", "/assets/" + escaped(name));
            work.assets[name].licence = about.value("licence", std::string());
        }
    }
    if (!error.message.empty())
        return tl::unexpected<base::Error>(error);
    if (Json rest = unknownIn(j, jsonOf(work)); !rest.empty())
        work.kept = nlohmann::json::parse(rest.dump()).dump();  // keys sorted: the same rest is the same text
    return work;
}

Json withKept(const work::Work& work)
{
    Json j = jsonOf(work);
    if (!work.kept.empty())
        putBack(j, Json::parse(work.kept), false);
    return j;
}

}  // namespace

std::string toJson(const work::Work& work)
{
    return withKept(work).dump(2) + "\n";
}

base::Result<work::Work> fromJson(const std::string& text)
{
    if (!outline::isUtf8(text))
        return base::fail(base::ErrorCode::BadInput, "The JSON of this work is not UTF-8; save it as UTF-8");
    try {
        return workFrom(Json::parse(text));
    } catch (const Json::exception& e) {
        std::string what = e.what();
        what = what.substr(what.find("] ") == std::string::npos ? 0 : what.find("] ") + 2);
        return base::fail(base::ErrorCode::BadInput, "The JSON of this work is broken: " + what);
    }
}

base::Result<work::Work> withValueAt(const work::Work& work, const std::string& pointer, const std::string& value)
{
    const auto bad = [&](const std::string& message) { return base::fail(base::ErrorCode::BadInput, message, pointer); };
    if (!outline::isUtf8(value) || !outline::isUtf8(pointer))
        return bad("Place and value must be UTF-8");
    Json j = withKept(work);
    try {
        const Json::json_pointer at(pointer);
        if (at.empty())
            return bad("A JSON pointer like /pieces/p1/form/depthPt is needed");
        if (!j.contains(at.parent_pointer()) || !j[at.parent_pointer()].is_structured())
            return bad("There is no such place in this work; see the keys with open-glow-cli schema");
        Json parsed = Json::parse(value, nullptr, false);
        const bool wantsText = j.contains(at) && j[at].is_string();
        if (parsed.is_discarded() || (wantsText && !parsed.is_string()))
            parsed = value;
        if (!j.contains(at) && !j[at.parent_pointer()].is_array()) {
            Json trial = j;
            trial[at] = parsed;
            auto made = workFrom(trial);
            if (!made)
                return made;
            if (unknownIn(trial, jsonOf(*made)).contains(at))
                return bad("There is no such place in this work; see the keys with open-glow-cli schema");
        }
        j[at] = parsed;
    } catch (const Json::exception&) {
        return bad("This is no JSON pointer into this work (RFC 6901); write one like /pieces/p1/form/depthPt");
    }
    // A changed text keeps the ids of letters that stay: the change is made on the letters of the work as it was.
    auto changed = workFrom(j);
    if (!changed)
        return changed;
    for (auto& [id, piece] : changed->pieces.items)
        if (const auto before = work.pieces.items.find(id);
            before != work.pieces.items.end() && before->second.lettering.text != piece.lettering.text) {
            const std::string text = piece.lettering.text;
            piece.lettering.text = before->second.lettering.text;
            piece.lettering.letterIds = before->second.lettering.letterIds;
            piece.lettering.nextLetter = before->second.lettering.nextLetter;
            piece.letters = before->second.letters;
            work::setText(piece, text);
        }
    for (auto& [name, asset] : changed->assets)
        if (const auto before = work.assets.find(name); before != work.assets.end())
            asset.bytes = before->second.bytes;
    return changed;
}

std::string filmKey(const work::Work& work, std::uint32_t seed)
{
    return toJson(work::exposureOf(work)) + fmt::format("seed {}", seed);
}

std::string schema()
{
    Json j = Schema::of<work::Work>();
    Json root = {{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", "Open Glow work"}};
    root.update(j);
    root["properties"]["format"] = {{"const", kFormat}};
    root["properties"]["version"] = {{"type", "integer"}, {"minimum", 1}, {"maximum", kFormatVersion}};
    root["properties"]["assets"] = {{"type", "object"}, {"description", "files in this work by name"},
                                    {"additionalProperties", {{"type", "object"}, {"properties", {{"licence", {{"type", "string"}}}}}}}};
    root["required"] = {"format", "version"};
    return root.dump(2) + "\n";
}

}  // namespace files
