// Looks that glTF has no words for, painted: one sheet for all surfaces of a body with the same material, under the patterns and pictures
// that cover it. Surfaces that hang together and face the same axis of the body lie on it as one patch, seen along that axis: nothing is
// drawn out by more than the root of 3, and only what winds above itself would lie on itself.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "files/glb_pictures.h"
#include "render/picture_sheet.h"

namespace files {

class GlbAtlas {
public:
    // Patches of these triangles, at `wish` px per pt or as many as 2,048 px a side hold. `body` must stay. O(triangles).
    GlbAtlas(const solid::Body& body, const std::vector<std::uint32_t>& triangles, double wish);

    // Texture coordinates (0 to 1, downwards) of the corners of the i-th of the triangles.
    std::array<surface::Vec2f, 3> at(std::size_t i) const;
    double pxPerPt() const { return m_pxPerPt; }
    int width() const { return m_width; }
    int height() const { return m_height; }

    // Maps of what is not the same everywhere. O(pixels), some microseconds each, parallel. Errors: Internal.
    base::Result<GlbImages> paint(const surface::Material& material, const surface::Cover& cover, const render::PictureSheet& sheet) const;

private:
    struct Texel {
        std::int32_t triangle = -1;  // its place in m_triangles; -1: none
        float inside = 0;            // px from its nearest edge, outside less than 0
    };
    void layOut();
    std::vector<Texel> texels() const;
    surface::Vec2f onPatch(std::size_t i, std::size_t corner) const;  // pt, along the patch's axis

    const solid::Body& m_body;
    std::vector<std::uint32_t> m_triangles;
    std::vector<int> m_axis, m_patch;  // of each triangle: 0 to 5 for x, y, z, and against them; which patch
    struct Patch {
        surface::Vec2f least, most;  // pt
        int x = 0, y = 0, width = 0, height = 0;
    };
    std::vector<Patch> m_patches;
    double m_pxPerPt = 0;
    int m_width = 0, m_height = 0;
};

// How finely a cover is painted, px per pt.
double atlasDensity(const surface::Cover& cover);

}  // namespace files
