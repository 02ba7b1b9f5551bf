// Light set-ups to begin with, and those a designer keeps: one small JSON file each.
//
//   {"format": "open-glow light set-up", "version": 1, "name": "Rim from behind", "words": "dark edges", "reachPt": 1000,
//    "surroundingsStops": -4, "lights": [{...}, ...]}
//
// "lights" is a list of lights as docs/format.md describes them; "reachPt" is the longer side of the sheet it was made for,
// "surroundingsStops" how bright a white card is by the surroundings. The file's name without its ending is its name on the command line.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "work/light_setup.h"

namespace files {

struct NamedLightSetup {
    std::string id;     // the file's name without ".json"
    std::string name;   // as people read it
    std::string words;  // what it is looked for by
    work::LightSetup setup;
    bool own = false;  // kept by the user
};

// Errors: CannotRead, BadInput with the file as place.
base::Result<NamedLightSetup> readLightSetup(const std::string& path);
// Of the folders, as formStarts() has them.
std::vector<NamedLightSetup> lightSetups(const std::vector<std::string>& folders, base::Notes* notes = nullptr);
// Into the folder, which is made; one of the same name is replaced. Errors: BadInput for a name without a letter or digit, CannotWrite.
base::Result<NamedLightSetup> keepLightSetup(const std::string& folder, const std::string& name, const work::LightSetup& setup);

// The installed ones, and the user's own (XDG_DATA_HOME/open-glow/light-set-ups).
std::vector<std::string> lightSetupFolders();
std::string ownLightSetupFolder();

}  // namespace files
