#include "files/work_json.h"

#include <fmt/format.h>

#include <algorithm>

#include "files/json_reader.h"
#include "files/json_schema.h"
#include "files/json_writer.h"
#include "outline/text.h"
#include "work/scene.h"

namespace files {

namespace {

using json::escaped;
using json::Json;
using json::Reader;
using json::Schema;
using json::Writer;

constexpr const char* kFormat = "open-glow work";

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
