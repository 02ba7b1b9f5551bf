// Forms to begin with, and those a designer keeps: one small JSON file each, with the size of type it was made for.
//
//   {"format": "open-glow form", "version": 1, "name": "Enamel sign", "sizePt": 100, "form": {...}}
//
// "form" is what docs/format.md says of a piece's form. The file's name without its ending is the start's name on the command line.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace files {

struct FormStart {
    std::string id;    // the file's name without ".json"
    std::string name;  // as people read it
    double sizePt = 100;
    work::Form form;
    bool own = false;  // kept by the user

    work::Form at(double sizePt) const;  // for type of this size: lengths grow with it
};

// Errors: CannotRead, BadInput with the file as place.
base::Result<FormStart> readFormStart(const std::string& path);
// Of the folders, in their order and by file name within each; a later one of the same id takes the place of an earlier one. What cannot be
// read is left out and told.
std::vector<FormStart> formStarts(const std::vector<std::string>& folders, base::Notes* notes = nullptr);
// Into the folder, which is made; one of the same name is replaced. Errors: BadInput for a name without a letter or digit, CannotWrite.
base::Result<FormStart> keepForm(const std::string& folder, const std::string& name, const work::Form& form, double sizePt);

// The installed ones, and the user's own (XDG_DATA_HOME/open-glow/forms).
std::vector<std::string> formFolders();
std::string ownFormFolder();

}  // namespace files
