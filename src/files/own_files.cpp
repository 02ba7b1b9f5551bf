#include "files/own_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>

#include "base/file.h"
#include "files/json_text.h"

namespace files {

namespace places = std::filesystem;

namespace {

// "Enamel sign" is kept as "enamel-sign": letters and digits of ASCII, the rest as their bytes; empty for a name without any.
std::string fileNameFor(const std::string& name)
{
    std::string id;
    for (const unsigned char c : name)
        if (c >= 0x80)
            id += fmt::format("{:02x}", c);
        else if (std::isalnum(c))
            id += static_cast<char>(std::tolower(c));
        else if (!id.empty() && id.back() != '-')
            id += '-';
    while (!id.empty() && id.back() == '-')
        id.pop_back();
    return id.substr(0, 80);
}

}  // namespace

std::string ownFolder(const std::string& kind)
{
    const char* set = std::getenv("XDG_DATA_HOME");
    const char* home = std::getenv("HOME");
    const places::path data = set && *set == '/' ? places::path(set) : places::path(home ? home : "/") / ".local/share";
    return (data / "open-glow" / kind).string();
}

std::vector<std::string> foldersOf(const std::string& kind)
{
    std::error_code error;
    const places::path installed = places::read_symlink("/proc/self/exe", error).parent_path() / "../share/open-glow" / kind;
    return {places::is_directory(installed, error) ? installed.string() : OPEN_GLOW_ASSETS "/" + kind, ownFolder(kind)};
}

std::vector<std::string> jsonFilesIn(const std::string& folder)
{
    std::error_code error;
    std::vector<std::string> paths;
    for (const auto& entry : places::directory_iterator(folder, error))
        if (entry.path().extension() == ".json")
            paths.push_back(entry.path().string());
    std::sort(paths.begin(), paths.end());
    return paths;
}

base::Result<OwnFile> readOwnFile(const std::string& path, const std::string& what, std::uint64_t mostBytes)
{
    const auto bad = [&](const std::string& message, const std::string& where = {}) {
        return base::fail(base::ErrorCode::BadInput, message, where.empty() ? path : path + ", " + where);
    };
    const auto bytes = base::readFile(path, mostBytes);
    if (!bytes)
        return base::failed(bytes);
    auto parsed = json::parse({bytes->begin(), bytes->end()});
    if (!parsed)
        return bad(parsed.error().message, parsed.error().place);
    OwnFile file{places::path(path).stem().string(), {}, std::move(*parsed)};
    const json::Json& j = file.json;
    if (!j.is_object() || j.value("format", json::Json()) != "open-glow " + what)
        return bad(fmt::format("This is no {0} of Open Glow: it must be an object with \"format\": \"open-glow {0}\"", what));
    if (j.value("version", json::Json()) != 1)
        return bad(fmt::format("This {} was made by a newer Open Glow; update Open Glow", what), "/version");
    const auto name = j.find("name");
    if (name == j.end() || !name->is_string() || name->get<std::string>().empty() || name->get<std::string>().size() > 200)
        return bad(fmt::format("A {} needs a name of 1 to 200 bytes", what), "/name");
    file.name = name->get<std::string>();
    return file;
}

base::Result<std::string> keepOwnFile(const std::string& folder, const std::string& what, const std::string& name,
                                      const json::OrderedJson& values)
{
    const std::string id = fileNameFor(name);
    if (id.empty())
        return base::fail(base::ErrorCode::BadInput, fmt::format("A {} is kept by a name; give it one with a letter or a digit", what));
    json::OrderedJson j = {{"format", "open-glow " + what}, {"version", 1}, {"name", name}};
    j.update(values);
    std::error_code error;
    places::create_directories(folder, error);
    if (auto written = base::replaceFile((places::path(folder) / (id + ".json")).string(), j.dump(2) + "\n"); !written)
        return base::failed(written);
    return id;
}

}  // namespace files
