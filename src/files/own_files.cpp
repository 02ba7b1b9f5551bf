#include "files/own_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>

namespace files {

namespace places = std::filesystem;

std::string ownFolder(const std::string& kind)
{
    const char* set = std::getenv("XDG_DATA_HOME");
    const char* home = std::getenv("HOME");
    const places::path data = set && *set == '/' ? places::path(set) : places::path(home ? home : "/") / ".local/share";
    return (data / "open-glow" / kind).string();
}

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

}  // namespace files
