#include "files/work_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "files/json_migrate.h"
#include "files/json_reader.h"
#include "files/json_schema.h"
#include "files/json_text.h"
#include "files/json_writer.h"
#include "outline/text.h"
#include "work/fonts.h"
#include "work/scene.h"

namespace files {

namespace {

using json::escaped;
using json::Json;
using json::OrderedJson;
using json::Reader;
using json::Schema;
using json::Writer;

constexpr const char* kFormat = "open-glow work";

OrderedJson jsonOf(const work::Work& work)
{
    OrderedJson j = OrderedJson::object();
    j["format"] = kFormat;
    j["version"] = kFormatVersion;
    const OrderedJson body = Writer::of(work);
    j.update(body);
    OrderedJson& assets = Writer::append(j, "assets") = OrderedJson::object();
    for (const auto& [name, asset] : work.assets)
        Writer::append(assets, name) = {{"licence", asset.licence}};
    return j;
}

Json sorted(const OrderedJson& j)
{
    return Json(j);
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

constexpr std::string_view kMaps[] = {"pieces", "lights", "assets", "letters", "views",   "swatches", "steps",
                                      "sheets", "shifts", "groups", "shapes",  "outputs", "parts",    "points",
                                      "top",    "bottom", "cards",  "layers",  "proofs",  "strokes"};

// Puts kept keys back, but not below things that are gone: an object of the rest is only entered where its parent is there.
void putBack(OrderedJson& out, const OrderedJson& rest, bool insideMap)
{
    for (const auto& [key, value] : rest.items()) {
        const auto found = out.find(key);
        if (found == out.end()) {
            if (!insideMap)
                out[key] = value;
        } else if (found->is_object() && value.is_object()) {
            putBack(*found, value, !insideMap && std::ranges::find(kMaps, key) != std::end(kMaps));
        }
    }
}

// Ids that come twice, or are none, get new ones.
void mendLetterIds(const std::string& pieceId, work::Lettering& lettering, base::Notes* notes)
{
    std::set<std::string> used;
    std::vector<std::string*> wrong;
    for (std::string& id : lettering.letterIds)
        if (!json::isId(id) || !used.insert(id).second)
            wrong.push_back(&id);
    std::vector<std::string> fresh = lettering.newLetterIds(wrong.size());
    for (std::size_t i = 0; i < wrong.size(); ++i)
        *wrong[i] = std::move(fresh[i]);
    if (!wrong.empty() && notes)
        notes->push_back({"letter-ids", fmt::format("{} letters had no id of their own; they have one now", wrong.size()),
                          "/pieces/" + pieceId + "/source/letterIds"});
}

// What a work must have to be shown.
void mendSheets(work::Work& work, base::Notes* notes)
{
    if (work.sheets.order.empty()) {
        work.sheets = work::Work().sheets;
        work.shown = work.sheets.order.front();
    }
    if (!work.sheets.items.contains(work.shown)) {
        work.shown = work.sheets.order.front();
        if (notes)
            notes->push_back({"shown", "The sheet that was shown is not there; the first one is shown now", "/shown"});
    }
    for (auto& [_, sheet] : work.sheets.items)
        if (sheet.outputs.order.empty())
            sheet.outputs.add("o1", {});
}

base::Result<work::Work> workFrom(const Json& read, base::Notes* notes)
{
    const Json* now = &read;
    Json migrated;
    const auto bad = [](const std::string& message, const std::string& place) {
        return base::fail(base::ErrorCode::BadInput, message, place);
    };
    if (!read.is_object() || read.value("format", Json()) != kFormat)
        return bad("This is not the JSON of an Open Glow work: it must be an object with \"format\": \"open-glow work\"", "/format");
    const auto version = read.find("version");
    if (version == read.end() || !version->is_number_integer() || version->get<std::int64_t>() < 1)
        return bad("The version of the format is missing; it must be a whole number from 1", "/version");
    if (version->get<std::int64_t>() > kFormatVersion)
        return bad(fmt::format("This work was made by a newer Open Glow (format {}, this one reads up to {}); update Open Glow",
                               version->dump(), kFormatVersion),
                   "/version");

    if (version->get<int>() < kFormatVersion) {
        migrated = read;
        json::migrate(migrated, version->get<int>());
        now = &migrated;
    }
    const Json& j = *now;

    work::Work work;
    base::Error error;
    Reader reader(j, "", error, notes);
    describe(reader, work);
    if (!error.message.empty())
        return tl::unexpected<base::Error>(error);
    mendSheets(work, notes);
    for (auto& [id, piece] : work.pieces.items) {
        if (!piece.lettering())
            continue;
        mendLetterIds(id, *piece.lettering(), notes);
        const std::string text = piece.lettering()->text;
        if (outline::graphemes(text).size() != piece.letterIds().size())
            work::setText(piece, text);
    }
    if (const int least = work::leastNextId(work); work.nextId < least) {
        work.nextId = least;
        if (notes && j.contains("nextId"))
            notes->push_back({"next-id", fmt::format("nextId was too small; it is {} now", least), "/nextId"});
    }
    if (const auto assets = j.find("assets"); assets != j.end()) {
        if (!assets->is_object())
            return bad("assets must be an object in braces", "/assets");
        if (assets->size() > work::kMostThings)
            return bad(fmt::format("There are {} assets; {} are allowed at most", assets->size(), work::kMostThings), "/assets");
        for (const auto& [name, about] : assets->items()) {
            if (!about.is_object() || (about.contains("licence") && !about["licence"].is_string()))
                return bad("An asset must be an object with a \"licence\" text", "/assets/" + escaped(name));
            work.assets[name].licence = about.value("licence", std::string());
        }
    }
    if (Json rest = unknownIn(j, sorted(jsonOf(work))); !rest.empty())
        work.kept = rest.dump();  // keys sorted: the same rest is the same text
    return work;
}

OrderedJson withKept(const work::Work& work)
{
    OrderedJson j = jsonOf(work);
    if (!work.kept.empty())
        putBack(j, OrderedJson::parse(work.kept), false);
    return j;
}

}  // namespace

std::string toJson(const work::Work& work)
{
    return withKept(work).dump(2) + "\n";
}

base::Result<work::Work> fromJson(const std::string& text, base::Notes* notes)
{
    const auto parsed = json::parse(text, notes);
    if (!parsed)
        return tl::unexpected<base::Error>(parsed.error());
    return workFrom(*parsed, notes);
}

namespace {

// What a letter has of its own begins as its piece has it, as soon as a value in it is set: "/pieces/p1/letters/a2/...".
void beginOwn(Json& j, const work::Work& work, const std::string& pointer)
{
    std::vector<std::string> keys;
    for (std::size_t at = 0; at < pointer.size();) {
        const std::size_t end = std::min(pointer.find('/', at + 1), pointer.size());
        keys.push_back(pointer.substr(at + 1, end - at - 1));
        at = end;
    }
    const auto piece =
        keys.size() > 4 && keys[0] == "pieces" && keys[2] == "letters" ? work.pieces.items.find(keys[1]) : work.pieces.items.end();
    if (piece == work.pieces.items.end() || !piece->second.hasLetter(keys[3]))
        return;
    Json& whole = j["pieces"][keys[1]];
    Json& own = whole["letters"][keys[3]];
    if (own.is_null())
        own = Json::object();
    if (keys.size() < 6 || own.contains(keys[4]))
        return;
    if (keys[4] == "font" && whole["source"].contains("font"))
        own["font"] = whole["source"]["font"];
    else if (keys[4] == "form" || keys[4] == "material")
        own[keys[4]] = whole[keys[4]];
}

}  // namespace

base::Result<work::Work> withValueAt(const work::Work& work, const std::string& pointer, const std::string& value)
{
    const auto bad = [&](const std::string& message) { return base::fail(base::ErrorCode::BadInput, message, pointer); };
    constexpr const char* kNoPlace = "There is no such place in this work; see the keys with open-glow-cli schema";
    if (!outline::isUtf8(value) || !outline::isUtf8(pointer))
        return bad("Place and value must be UTF-8");
    Json j = sorted(withKept(work));
    try {
        beginOwn(j, work, pointer);
        const Json::json_pointer at(json::presentPointer(j, pointer));
        if (at.empty())
            return bad("A JSON pointer like /pieces/p1/form/depthPt is needed");
        if (!j.contains(at.parent_pointer()) || !j[at.parent_pointer()].is_structured())
            return bad(kNoPlace);
        const Json& parent = j[at.parent_pointer()];
        const bool isNew = !j.contains(at);
        // Of a list what is there can be changed, and one more can be added at its end.
        if (parent.is_array() && isNew && at.back() != "-" && at.back() != std::to_string(parent.size()))
            return bad(kNoPlace);
        auto read = json::parse(value);
        if (!read && read.error().code == base::ErrorCode::TooLarge)
            return bad(read.error().message);
        const bool wantsText = !isNew && j[at].is_string();
        const Json parsed = read && (!wantsText || read->is_string()) ? *read : Json(value);
        if (isNew && !parent.is_array()) {
            Json trial = j;
            trial[at] = parsed;
            auto made = workFrom(trial, nullptr);
            if (!made)
                return made;
            if (unknownIn(trial, sorted(jsonOf(*made))).contains(at))
                return bad(kNoPlace);
        }
        j[at] = parsed;
    } catch (const Json::exception&) {
        return bad("This is no JSON pointer into this work (RFC 6901); write one like /pieces/p1/form/depthPt");
    }
    // A changed text keeps the ids of letters that stay: the change is made on the letters of the work as it was.
    base::Notes mended;
    auto changed = workFrom(j, &mended);
    if (!changed)
        return changed;
    base::Notes there;
    (void)workFrom(sorted(withKept(work)), &there);
    for (const base::Note& note : mended)
        if (note.place != "/nextId" && std::find(there.begin(), there.end(), note) == there.end())
            return base::fail(base::ErrorCode::BadInput, note.message + "; give a value that fits", note.place);
    for (auto& [id, piece] : changed->pieces.items) {
        const auto was = work.pieces.items.find(id);
        const work::Lettering* known = was == work.pieces.items.end() ? nullptr : was->second.lettering();
        work::Lettering* lettering = piece.lettering();
        if (!known || !lettering || known->text == lettering->text)
            continue;
        const std::string text = lettering->text;
        lettering->text = known->text;
        lettering->letterIds = known->letterIds;
        lettering->nextLetter = known->nextLetter;
        piece.letters = was->second.letters;
        work::setText(piece, text);
    }
    for (auto& [name, asset] : changed->assets)
        if (const auto before = work.assets.find(name); before != work.assets.end()) {
            asset.bytes = before->second.bytes;
            asset.texture = before->second.texture;
            asset.panorama = before->second.panorama;
        }
    return changed;
}

std::string filmKey(const work::Work& work, std::uint32_t seed)
{
    return toJson(work::exposureOf(work)) + work::fontContents(work) + fmt::format("seed {}", seed);
}

std::string schema()
{
    const OrderedJson j = Schema::of<work::Work>();
    OrderedJson root = {{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", "Open Glow work"}};
    root.update(j);
    root["properties"]["format"] = {{"const", kFormat}};
    root["properties"]["version"] = {{"type", "integer"}, {"minimum", 1}, {"maximum", kFormatVersion}};
    root["properties"]["assets"] = {{"type", "object"},
                                    {"description", "files in this work by name"},
                                    {"additionalProperties", {{"type", "object"}, {"properties", {{"licence", {{"type", "string"}}}}}}}};
    root["required"] = {"format", "version"};
    return root.dump(2) + "\n";
}

}  // namespace files
