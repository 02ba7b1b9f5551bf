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
// The installed ones of a kind, and the user's own.
std::vector<std::string> foldersOf(const std::string& kind);
// All JSON files of a folder, by name.
std::vector<std::string> jsonFilesIn(const std::string& folder);

// What all of them have: {"format", "version": 1, "name", ...}.
struct OwnFile {
    std::string id;  // the file's name without ".json"
    std::string name;
    json::Json json;
};
// `what` as in "This is no form of Open Glow". Errors: CannotRead, BadInput with the file as place.
base::Result<OwnFile> readOwnFile(const std::string& path, const std::string& what, std::uint64_t mostBytes = 1 << 20);
// Writes it under its name; one of the same name is replaced. Returns its id. Errors: BadInput for a name without a letter or digit,
// CannotWrite.
base::Result<std::string> keepOwnFile(const std::string& folder, const std::string& what, const std::string& name,
                                      const json::OrderedJson& values);

// All of these folders as read(path) reads them, in their order and by file name within each; a later one of the same id takes the place of
// an earlier one; `own` is set for those of the user's folder. What cannot be read is left out and told.
template <class Kept>
std::vector<Kept> readAll(const std::vector<std::string>& folders, const std::string& ownFolder,
                          base::Result<Kept> (*read)(const std::string&), base::Notes* notes)
{
    std::vector<Kept> all;
    for (const std::string& folder : folders)
        for (const std::string& path : jsonFilesIn(folder)) {
            auto kept = read(path);
            if (!kept) {
                if (notes)
                    notes->push_back({"left-out", kept.error().message, kept.error().place});
                continue;
            }
            kept->own = folder == ownFolder;
            std::erase_if(all, [&](const Kept& k) { return k.id == kept->id; });
            all.push_back(std::move(*kept));
        }
    return all;
}

}  // namespace files
