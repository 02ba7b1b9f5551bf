// Colour tables (.cube), as programs for film exchange them: the layout of the Cube LUT Specification 1.0 (2013).
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "base/vec.h"

namespace finish {

using base::Rgb;

// Three curves, or a cube of colours. Colours go in and come out as they are seen (encoded), 0 to 1.
class Cube {
public:
    // TITLE, DOMAIN_MIN, DOMAIN_MAX, comments, LUT_1D_SIZE up to 65536 or LUT_3D_SIZE up to 256 with its rows, red fastest. Errors:
    // BadInput with the line.
    static base::Result<Cube> read(std::string_view text);

    // Between its points: of a cube in the tetrahedron that holds the colour. What lies outside the domain counts as its end.
    Rgb at(Rgb colour) const;
    int size() const { return m_size; }
    bool is3d() const { return m_is3d; }

    bool operator==(const Cube&) const = default;

private:
    bool m_is3d = true;
    int m_size = 0;
    Rgb m_low{0, 0, 0}, m_high{1, 1, 1};
    std::vector<Rgb> m_colours;
};

using SharedCube = std::shared_ptr<const Cube>;

}  // namespace finish
