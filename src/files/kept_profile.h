// Profiles a designer keeps by name.
//
//   {"format": "open-glow profile", "version": 1, "name": "Bead", "path": "M0 0 L1 1"}
//
// "path" is what solid/profile.h says.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"

namespace files {

struct KeptProfile {
    std::string id;  // the file's name without ".json"
    std::string name, path;
};

// Errors: CannotRead, BadInput with the file as place.
base::Result<KeptProfile> readProfileFile(const std::string& path);
// By file name. What cannot be read is left out and told.
std::vector<KeptProfile> keptProfiles(const std::string& folder, base::Notes* notes = nullptr);
// Into the folder, which is made; one of the same name is replaced. Errors: BadInput for a name without a letter or digit or a path that
// is none, CannotWrite.
base::Result<KeptProfile> keepProfile(const std::string& folder, const std::string& name, const std::string& path);

}  // namespace files
