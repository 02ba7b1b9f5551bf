// A picture as materials use it: filtered by the width of what looks at it (L. Williams, Pyramidal parametrics, 1983: a pyramid of
// half sizes, looked up between two of its levels), so that fine ones neither flicker nor alias.
//
// Pixels are held once. Colours are averaged in linear light with their alpha multiplied in; what is no colour (roughness, heights,
// normals) as it is.
#pragma once

#include <cstdint>
#include <memory>
#include <mutex>
#include <vector>

#include "base/vec.h"

namespace surface {

using base::Rgb;
using Vec2f = base::V2<float>;

// How a picture goes on beyond its edges.
enum class PictureEdges : std::uint8_t { Repeat, Mirror, Once };

struct Rgba {
    Rgb colour;
    float alpha = 0;

    Rgba operator+(const Rgba& o) const { return {colour + o.colour, alpha + o.alpha}; }
    Rgba operator*(float by) const { return {colour * by, alpha * by}; }
};

class Texture {
public:
    // RGBA by rows from the top, 8 bits each, or 16 of them in `deep`; `linear`: the values are light, not sRGB.
    Texture(int width, int height, std::vector<std::uint8_t> rgba);
    Texture(int width, int height, std::vector<std::uint16_t> deep, bool linear);

    int width() const { return m_width; }
    int height() const { return m_height; }
    double aspect() const { return static_cast<double>(m_height) / m_width; }
    bool hasAlpha() const { return m_hasAlpha; }  // some pixel is not opaque

    // Makes the pyramid for colours or for values, once; what is looked up needs it. Safe from several threads. O(pixels).
    void makeColours() const;
    void makeValues() const;

    // At s to the right and t upwards, both 0 to 1 over the picture; `texels` is how many of its pixels what looks at it is wide. Beyond
    // the edges of one that lies there once alpha is 0. Some 100 ns.
    Rgba colourAt(float s, float t, float texels, PictureEdges edges) const;  // linear, times alpha
    Rgba valueAt(float s, float t, float texels, PictureEdges edges) const;   // as they are in the file; alpha beside them

    // Of the pixels and what was made of them.
    std::size_t bytes() const;

private:
    struct Level {
        int width = 0, height = 0;
        std::vector<std::uint16_t> rgba;
    };
    using Pyramid = std::vector<Level>;  // from half the size down to one pixel

    template <bool isColour>
    Rgba pixel(int x, int y) const;
    template <bool isColour>
    Rgba onLevel(int level, float s, float t, PictureEdges edges) const;
    template <bool isColour>
    Rgba at(float s, float t, float texels, PictureEdges edges) const;
    template <bool isColour>
    Pyramid pyramid() const;

    int m_width = 1, m_height = 1;
    bool m_linear = false, m_hasAlpha = false;
    std::vector<std::uint8_t> m_pixels;
    std::vector<std::uint16_t> m_deep;
    mutable std::once_flag m_coloursMade, m_valuesMade;
    mutable Pyramid m_colours, m_values;
};
using SharedTexture = std::shared_ptr<const Texture>;

}  // namespace surface
