#include "files/light_setup.h"

#include <fmt/format.h>

#include <algorithm>

#include "files/own_files.h"

namespace files {

namespace {

constexpr const char* kKind = "light set-up";
constexpr double kLeastReach = 0.1, kMostReach = 1e6, kMostStops = 20;
constexpr std::size_t kMostLights = 200;

}  // namespace

base::Result<NamedLightSetup> readLightSetup(const std::string& path)
{
    const auto bad = [&](const std::string& message, const std::string& where) {
        return base::fail(base::ErrorCode::BadInput, message, path + ", " + where);
    };
    const auto file = readOwnFile(path, kKind);
    if (!file)
        return base::failed(file);
    const json::Json& j = file->json;
    NamedLightSetup found{file->id, file->name, {}, {}};
    const auto number = [&](const char* key, double least, double most) -> std::optional<double> {
        const auto at = j.find(key);
        return at != j.end() && at->is_number() && at->get<double>() >= least && at->get<double>() <= most
                   ? std::optional(at->get<double>())
                   : std::nullopt;
    };
    const auto reach = number("reachPt", kLeastReach, kMostReach);
    if (!reach)
        return bad(fmt::format("reachPt must be a number from {} to {}", kLeastReach, kMostReach), "/reachPt");
    found.setup.reachPt = *reach;
    if (j.contains("surroundingsStops")) {
        found.setup.surroundingsStops = number("surroundingsStops", -kMostStops, kMostStops);
        if (!found.setup.surroundingsStops)
            return bad(fmt::format("surroundingsStops must be a number from {} to {}", -kMostStops, kMostStops), "/surroundingsStops");
    }
    if (const auto words = j.find("words"); words != j.end() && words->is_string())
        found.words = words->get<std::string>().substr(0, 200);
    const auto lights = j.find("lights");
    if (lights == j.end() || !lights->is_array() || lights->empty() || lights->size() > kMostLights)
        return bad(fmt::format("lights must be a list of 1 to {} lights as docs/format.md describes them", kMostLights), "/lights");
    for (std::size_t i = 0; i < lights->size(); ++i) {
        const std::string place = fmt::format("/lights/{}", i);
        if (!(*lights)[i].is_object())
            return bad("This is no light; it is an object as docs/format.md describes it", place);
        base::Error error;
        json::Reader reader((*lights)[i], place, error);
        work::Light light;
        describe(reader, light);
        if (!error.message.empty())
            return bad(error.message, error.place);
        if (light.newer)
            return bad("This kind of light was made by a newer Open Glow; update Open Glow", place + "/kind");
        found.setup.lights.push_back(std::move(light));
    }
    return found;
}

std::vector<NamedLightSetup> lightSetups(const std::vector<std::string>& folders, base::Notes* notes)
{
    return readAll(folders, ownLightSetupFolder(), readLightSetup, notes);
}

base::Result<NamedLightSetup> keepLightSetup(const std::string& folder, const std::string& name, const work::LightSetup& setup)
{
    if (setup.lights.empty())
        return base::fail(base::ErrorCode::BadInput, "There is no lamp to keep; add one");
    NamedLightSetup kept{{}, name, {}, setup, true};
    kept.setup.reachPt = std::clamp(setup.reachPt, kLeastReach, kMostReach);
    if (kept.setup.lights.size() > kMostLights)
        kept.setup.lights.resize(kMostLights);
    json::OrderedJson lights = json::OrderedJson::array();
    for (const work::Light& light : kept.setup.lights)
        lights.push_back(json::Writer::of(light));
    json::OrderedJson values{{"reachPt", kept.setup.reachPt}, {"lights", lights}};
    if (kept.setup.surroundingsStops)
        values["surroundingsStops"] = *kept.setup.surroundingsStops;
    const auto id = keepOwnFile(folder, kKind, name, values);
    if (!id)
        return base::failed(id);
    kept.id = *id;
    return kept;
}

std::string ownLightSetupFolder()
{
    return ownFolder("light-set-ups");
}

std::vector<std::string> lightSetupFolders()
{
    return foldersOf("light-set-ups");
}

}  // namespace files
