// Finishes to begin with, and those a designer keeps: one small JSON file each.
//
//   {"format": "open-glow finish", "version": 1, "name": "Soft print", "words": "matte paper", "reachPt": 1000,
//    "layers": [{"kind": "tone", "contrast": -0.12}, ...]}
//
// "layers" is a list of layers as docs/format.md describes them, from the lowest to the topmost; "reachPt" is the longer side of the sheet
// it was made for. The file's name without its ending is its name on the command line.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace files {

struct NamedFinish {
    std::string id;     // the file's name without ".json"
    std::string name;   // as people read it
    std::string words;  // what it is looked for by
    work::FinishStart start;
    bool own = false;  // kept by the user
};

// Errors: CannotRead, BadInput with the file as place.
base::Result<NamedFinish> readFinish(const std::string& path);
// Of the folders, as formStarts() has them.
std::vector<NamedFinish> finishes(const std::vector<std::string>& folders, base::Notes* notes = nullptr);
// Into the folder, which is made; one of the same name is replaced. Errors: BadInput for a name without a letter or digit and where there
// is no layer, CannotWrite.
base::Result<NamedFinish> keepFinish(const std::string& folder, const std::string& name, const work::FinishStart& start);

// The installed ones, and the user's own (XDG_DATA_HOME/open-glow/finishes).
std::vector<std::string> finishFolders();
std::string ownFinishFolder();

}  // namespace files
