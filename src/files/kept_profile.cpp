#include "files/kept_profile.h"

#include <filesystem>

#include "base/file.h"
#include "files/json_reader.h"
#include "files/json_text.h"
#include "files/json_writer.h"
#include "files/own_files.h"
#include "solid/profile.h"

namespace files {

namespace {

namespace places = std::filesystem;

constexpr const char* kProfileFormat = "open-glow profile";
constexpr std::uint64_t kMostProfileFile = 1 << 16;

}  // namespace

base::Result<KeptProfile> readProfileFile(const std::string& path)
{
    const auto bad = [&](const std::string& message, const std::string& where = {}) {
        return base::fail(base::ErrorCode::BadInput, message, where.empty() ? path : path + ", " + where);
    };
    const auto bytes = base::readFile(path, kMostProfileFile);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    const auto parsed = json::parse({bytes->begin(), bytes->end()});
    if (!parsed)
        return bad(parsed.error().message, parsed.error().place);
    const json::Json& j = *parsed;
    if (!j.is_object() || j.value("format", json::Json()) != kProfileFormat)
        return bad("This is no profile of Open Glow: it must be an object with \"format\": \"open-glow profile\"");
    if (j.value("version", json::Json()) != 1)
        return bad("This profile was made by a newer Open Glow; update Open Glow", "/version");
    KeptProfile kept;
    kept.id = places::path(path).stem().string();
    const auto name = j.find("name"), curve = j.find("path");
    if (name == j.end() || !name->is_string() || name->get<std::string>().empty() || name->get<std::string>().size() > 200)
        return bad("A profile needs a name of 1 to 200 bytes", "/name");
    kept.name = name->get<std::string>();
    if (curve == j.end() || !curve->is_string())
        return bad("The path is missing; it is a text such as \"M0 0 L1 1\"", "/path");
    kept.path = curve->get<std::string>();
    if (const auto nodes = solid::readProfile(kept.path); !nodes)
        return bad(nodes.error().message, "/path");
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
    const KeptProfile kept{fileNameFor(name), name, path};
    if (kept.id.empty())
        return base::fail(base::ErrorCode::BadInput, "A profile is kept by a name; give it one with a letter or a digit");
    if (const auto nodes = solid::readProfile(path); !nodes)
        return tl::unexpected<base::Error>(nodes.error());
    std::error_code error;
    places::create_directories(folder, error);
    const json::OrderedJson j = {{"format", kProfileFormat}, {"version", 1}, {"name", name}, {"path", path}};
    if (auto written = base::replaceFile((places::path(folder) / (kept.id + ".json")).string(), j.dump(2) + "\n"); !written)
        return tl::unexpected<base::Error>(written.error());
    return kept;
}

}  // namespace files
