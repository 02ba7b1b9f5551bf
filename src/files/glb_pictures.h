// Pictures on materials as glTF 2.0's textures: painted anew where its model is another (a print over a colour, heights, holes of their
// own), else the files as they are.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "base/result.h"
#include "surface/cover.h"
#include "surface/material.h"
#include "work/work.h"

namespace files {

struct GlbImage {
    std::vector<std::uint8_t> bytes;
    const char* mime = "image/png";
};
// What a material has of glTF's textures; colour has alpha where there are holes.
struct GlbImages {
    std::optional<GlbImage> colour, metalRoughness, normal, emissive, coat;
    bool cutOut = false;
    surface::PictureEdges edges = surface::PictureEdges::Repeat;
};

// The picture that says where on the sheet texture coordinates are; nothing without any.
const surface::Texture* leadOf(const surface::Pictures& pictures);
// Texture coordinates (glTF: downwards) of a place on their plane.
surface::Vec2f glbCoordinates(const surface::Pictures& pictures, surface::Vec2f at);

// Where texture coordinates `t` grow to the right on a triangle, square to the normal; and whether the picture is seen the right way round
// (glTF 2.0, 3.7.2.1: the third direction is normal x tangent times that).
std::array<float, 4> glbTangent(const std::array<base::Vec3f, 3>& p, const std::array<surface::Vec2f, 3>& t, base::Vec3f normal);

// O(pixels). A picture that lies there once gets a rim of the plain material, which goes on beyond it. Errors: Internal.
base::Result<GlbImages> glbImages(const work::Work& work, const surface::Material& material, const surface::Pictures& pictures);

}  // namespace files
