// The sample book: materials that are ready, and those a designer keeps: one small JSON file each.
//
//   {"format": "open-glow material", "version": 1, "name": "Red lacquer", "group": "Paint", "words": "shiny car", "material": {...},
//    "files": {"pictures/leaves-0123456789abcdef.png": "iVBORw0KGgo..."}}
//
// "material" is what docs/format.md says of one material, "files" the pictures that it names, in base64 (RFC 4648). The file's name without
// its ending is the sample's name on the command line.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace files {

struct MaterialSample {
    std::string id;                               // the file's name without ".json"
    std::string name, group;                      // as people read them
    std::string words;                            // further ones it is found by
    work::Material material;                      // follows no swatch
    bool own = false;                             // kept by the user
    std::map<std::string, work::Asset> pictures;  // that it has; what they show is not read yet, see readPictures()

    // Whether each word of a search, in whatever case, is the beginning of one of its words.
    bool isFoundBy(const std::string& search) const;
};

// What kept materials are grouped as.
inline constexpr const char* kOwnMaterials = "Kept by you";

// Errors: CannotRead, BadInput with the file as place.
base::Result<MaterialSample> readMaterialSample(const std::string& path);
// As formStarts(), group by group in the order of their names, the user's own first.
std::vector<MaterialSample> materialSamples(const std::vector<std::string>& folders, base::Notes* notes = nullptr);
// Into the folder, which is made; one of the same name is replaced. Errors: BadInput for a name without a letter or digit, CannotWrite.
// Its pictures are taken from `assets` and kept along. What is too large for a file of 64 MB is TooLarge.
base::Result<MaterialSample> keepMaterial(const std::string& folder, const std::string& name, const work::Material& material,
                                          const std::map<std::string, work::Asset>& assets = {});

// The installed ones, and the user's own (XDG_DATA_HOME/open-glow/materials).
std::vector<std::string> materialFolders();
std::string ownMaterialFolder();

}  // namespace files
