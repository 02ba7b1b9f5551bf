#include "files/kept_profile.h"

#include "files/own_files.h"
#include "solid/profile.h"

namespace files {

namespace {

constexpr const char* kProfileKind = "profile";

}  // namespace

base::Result<KeptProfile> readProfileFile(const std::string& path)
{
    const auto file = readOwnFile(path, kProfileKind);
    if (!file)
        return base::failed(file);
    const auto curve = file->json.find("path");
    if (curve == file->json.end() || !curve->is_string())
        return base::fail(base::ErrorCode::BadInput, "The path is missing; it is a text such as \"M0 0 L1 1\"", path + ", /path");
    KeptProfile kept{file->id, file->name, curve->get<std::string>()};
    if (const auto nodes = solid::readProfile(kept.path); !nodes)
        return base::fail(base::ErrorCode::BadInput, nodes.error().message, path + ", /path");
    return kept;
}

std::vector<KeptProfile> keptProfiles(const std::string& folder, base::Notes* notes)
{
    std::vector<KeptProfile> all;
    for (const std::string& path : jsonFilesIn(folder)) {
        auto kept = readProfileFile(path);
        if (kept)
            all.push_back(std::move(*kept));
        else if (notes)
            notes->push_back({"left-out", kept.error().message, kept.error().place});
    }
    return all;
}

base::Result<KeptProfile> keepProfile(const std::string& folder, const std::string& name, const std::string& path)
{
    if (const auto nodes = solid::readProfile(path); !nodes)
        return base::failed(nodes);
    const auto id = keepOwnFile(folder, kProfileKind, name, {{"path", path}});
    if (!id)
        return base::failed(id);
    return KeptProfile{*id, name, path};
}

}  // namespace files
