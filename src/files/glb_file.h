// Bodies, materials and view to glTF.
#pragma once

#include <string>

#include "base/result.h"
#include "work/bodies.h"

namespace files {

// A binary glTF 2.0 file (Khronos, specification 2.0.1): a node with a mesh for each body, named after its piece and counted, in metres,
// the sheet's middle at the origin, y up; a primitive for each of its materials; the sheet's view as a camera. Materials are written with
// KHR_materials_specular, _ior, _clearcoat, _sheen, _anisotropy, _iridescence, _transmission, _volume and _emissive_strength where they
// need them, but without what makes them translucent. Pictures on materials become textures (glb_pictures.h), patterns are painted, with
// the pictures under them, on a sheet for each body (glb_atlas.h); where there are neither, TEXCOORD_0 is in millimetres: on faces the
// place itself, elsewhere along the outline and along the profile. Lights, ground and finish stay in the work. Errors: BadInput without any
// body, CannotWrite, TooLarge above 4 GiB.
base::Result<void> saveGlb(const work::Work& work, const work::WorkBodies& bodies, const std::string& path);

}  // namespace files
