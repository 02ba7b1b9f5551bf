#include "files/finish_start.h"

#include <fmt/format.h>

#include <algorithm>

#include "files/own_files.h"

namespace files {

namespace {

constexpr const char* kFinishKind = "finish";
constexpr double kShortestReach = 0.1, kLongestReach = 1e6;  // pt
constexpr std::size_t kMostLayers = 200;

}  // namespace

base::Result<NamedFinish> readFinish(const std::string& path)
{
    const auto bad = [&](const std::string& message, const std::string& where) {
        return base::fail(base::ErrorCode::BadInput, message, path + ", " + where);
    };
    const auto file = readOwnFile(path, kFinishKind);
    if (!file)
        return base::failed(file);
    const json::Json& j = file->json;
    NamedFinish found{file->id, file->name, {}, {}};
    const auto reach = j.find("reachPt");
    if (reach == j.end() || !reach->is_number() || reach->get<double>() < kShortestReach || reach->get<double>() > kLongestReach)
        return bad(fmt::format("reachPt must be a number from {} to {}", kShortestReach, kLongestReach), "/reachPt");
    found.start.reachPt = reach->get<double>();
    if (const auto words = j.find("words"); words != j.end() && words->is_string())
        found.words = words->get<std::string>().substr(0, 200);
    const auto layers = j.find("layers");
    if (layers == j.end() || !layers->is_array() || layers->empty() || layers->size() > kMostLayers)
        return bad(fmt::format("layers must be a list of 1 to {} layers as docs/format.md describes them", kMostLayers), "/layers");
    for (std::size_t i = 0; i < layers->size(); ++i) {
        const std::string place = fmt::format("/layers/{}", i);
        if (!(*layers)[i].is_object())
            return bad("This is no layer; it is an object as docs/format.md describes it", place);
        base::Error error;
        json::Reader reader((*layers)[i], place, error);
        work::Layer layer;
        describe(reader, layer);
        if (!error.message.empty())
            return bad(error.message, error.place);
        if (std::holds_alternative<work::Newer>(layer.what))
            return bad("This kind of layer was made by a newer Open Glow; update Open Glow", place + "/kind");
        found.start.layers.push_back(std::move(layer));
    }
    return found;
}

std::vector<NamedFinish> finishes(const std::vector<std::string>& folders, base::Notes* notes)
{
    return readAll(folders, ownFinishFolder(), readFinish, notes);
}

base::Result<NamedFinish> keepFinish(const std::string& folder, const std::string& name, const work::FinishStart& start)
{
    if (start.layers.empty())
        return base::fail(base::ErrorCode::BadInput, "There is no layer to keep; add one");
    NamedFinish kept{{}, name, {}, start, true};
    kept.start.reachPt = std::clamp(start.reachPt, kShortestReach, kLongestReach);
    if (kept.start.layers.size() > kMostLayers)
        kept.start.layers.resize(kMostLayers);
    json::OrderedJson layers = json::OrderedJson::array();
    for (const work::Layer& layer : kept.start.layers)
        layers.push_back(json::Writer::of(layer));
    const auto id = keepOwnFile(folder, kFinishKind, name, {{"reachPt", kept.start.reachPt}, {"layers", layers}});
    if (!id)
        return base::failed(id);
    kept.id = *id;
    return kept;
}

std::string ownFinishFolder()
{
    return ownFolder("finishes");
}

std::vector<std::string> finishFolders()
{
    return foldersOf("finishes");
}

}  // namespace files
