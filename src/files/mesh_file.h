// Bodies to mesh files.
#pragma once

#include <string>

#include "base/result.h"
#include "work/bodies.h"

namespace files {

// Binary STL in millimetres, centred across and upright, its back or lowest point at z = 0, as printers expect. Each body is a
// closed shell. Errors: BadInput without any body, CannotWrite, TooLarge.
base::Result<void> saveStl(const work::WorkBodies& bodies, const std::string& path);

// By the name's ending: .stl as above, .glb as glb_file.h says. Errors: BadInput for another one; as those.
base::Result<void> saveMesh(const work::Work& work, const work::WorkBodies& bodies, const std::string& path);
bool isMeshName(const std::string& path);

}  // namespace files
