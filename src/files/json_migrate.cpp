#include "files/json_migrate.h"

namespace files::json {

namespace {

using Json = nlohmann::json;

// Takes a value out of an object; null when it is not there.
Json taken(Json& from, const char* key)
{
    const auto at = from.find(key);
    if (at == from.end())
        return {};
    Json value = std::move(*at);
    from.erase(at);
    return value;
}

void put(Json& to, const char* key, Json value)
{
    if (!value.is_null())
        to[key] = std::move(value);
}

template <class Change>
void eachIn(Json& things, const char* key, Change change)
{
    if (const auto at = things.find(key); at != things.end() && at->is_object())
        for (auto& [_, thing] : at->items())
            if (thing.is_object())
                change(thing);
}

void setKind(Json& object, const char* key, const char* kind)
{
    if (const auto at = object.find(key); at != object.end() && at->is_object())
        (*at)["kind"] = kind;
}

// Format 1 knew one sheet with one view and one rule for the final, and pieces of lettering that become slabs.
void fromFormat1(Json& work)
{
    Json sheet = Json::object();
    put(sheet, "size", taken(work, "sheet"));
    put(sheet, "view", taken(work, "view"));
    Json output = Json::object();
    put(output, "stop", taken(work, "final"));
    sheet["outputs"] = {{"o1", std::move(output)}};
    sheet["outputsOrder"] = {"o1"};
    work["sheets"] = {{"sh1", std::move(sheet)}};
    work["sheetsOrder"] = {"sh1"};
    work["shown"] = "sh1";
    eachIn(work, "pieces", [](Json& piece) {
        put(piece, "source", taken(piece, "lettering"));
        setKind(piece, "source", "lettering");
        setKind(piece, "form", "slab");
        eachIn(piece, "letters", [](Json& letter) { setKind(letter, "form", "slab"); });
    });
}

}  // namespace

void migrate(Json& work, int version)
{
    if (version < 2)
        fromFormat1(work);
}

std::string presentPointer(const Json& work, const std::string& pointer)
{
    const auto begins = [&](const std::string& with) {
        return pointer.starts_with(with) && (pointer.size() == with.size() || pointer[with.size()] == '/');
    };
    const auto replaced = [&](const std::string& from, const std::string& to) { return to + pointer.substr(from.size()); };
    const std::string shown = "/sheets/" + work.value("shown", std::string());
    if (begins("/sheet"))
        return replaced("/sheet", shown + "/size");
    if (begins("/view"))
        return replaced("/view", shown + "/view");
    if (begins("/final")) {
        const Json::json_pointer outputs(shown + "/outputsOrder/0");
        return replaced("/final", shown + "/outputs/" + (work.contains(outputs) ? work[outputs].get<std::string>() : "o1") + "/stop");
    }
    constexpr std::string_view kPieces = "/pieces/", kLettering = "/lettering";
    const std::size_t end = pointer.starts_with(kPieces) ? pointer.find('/', kPieces.size()) : std::string::npos;
    if (end != std::string::npos && begins(pointer.substr(0, end) + std::string(kLettering)))
        return pointer.substr(0, end) + "/source" + pointer.substr(end + kLettering.size());
    return pointer;
}

}  // namespace files::json
