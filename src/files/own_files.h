// What a designer keeps beside the works, by name: one small JSON file each.
#pragma once

#include <string>
#include <vector>

namespace files {

// Their own ones of a kind: XDG_DATA_HOME/open-glow/<kind>.
std::string ownFolder(const std::string& kind);
// "Enamel sign" is kept as "enamel-sign": letters and digits of ASCII, the rest as their bytes; empty for a name without any.
std::string fileNameFor(const std::string& name);
// All JSON files of a folder, by name.
std::vector<std::string> jsonFilesIn(const std::string& folder);

}  // namespace files
