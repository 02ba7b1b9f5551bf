// What a designer keeps beside the works, by name: one small JSON file each.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "files/json_reader.h"
#include "files/json_writer.h"

namespace files {

// Their own ones of a kind: XDG_DATA_HOME/open-glow/<kind>.
std::string ownFolder(const std::string& kind);
// All JSON files of a folder, by name.
std::vector<std::string> jsonFilesIn(const std::string& folder);

// What all of them have: {"format", "version": 1, "name", ...}.
struct OwnFile {
    std::string id;  // the file's name without ".json"
    std::string name;
    json::Json json;
};
// `what` as in "This is no form of Open Glow". Errors: CannotRead, BadInput with the file as place.
base::Result<OwnFile> readOwnFile(const std::string& path, const std::string& what);
// Writes it under its name; one of the same name is replaced. Returns its id. Errors: BadInput for a name without a letter or digit,
// CannotWrite.
base::Result<std::string> keepOwnFile(const std::string& folder, const std::string& what, const std::string& name,
                                      const json::OrderedJson& values);

}  // namespace files
