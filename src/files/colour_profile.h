// Colours of picture files: the ICC profile that a file names (ICC.1:2010), and the way there from sRGB, in which pictures are developed.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "picture/raster.h"
#include "work/work.h"

namespace files {

class ColourProfile {
public:
    // The profile of the library's sRGB (IEC 61966-2-1).
    static const ColourProfile& srgb();
    // Display P3 (primaries of SMPTE EG 432-1, white D65, curve of sRGB) and Rec. 2020 (ITU-R BT.2020-2, tables 3 and 4).
    static const ColourProfile& displayP3();
    static const ColourProfile& rec2020();
    // From the bytes of a file. Errors: BadInput: no profile, or one that is not of red, green and blue.
    static base::Result<std::shared_ptr<const ColourProfile>> read(const std::vector<std::uint8_t>& bytes);

    const std::vector<std::uint8_t>& bytes() const { return m_bytes; }
    // Encoded sRGB values of three channels, or four with straight alpha, as this profile encodes the same colours (relative colorimetric,
    // black point compensated); what it cannot show is cut off. In place. O(pixels), parallel.
    void encode(picture::Raster<float>& rows) const;

private:
    std::vector<std::uint8_t> m_bytes;
    std::shared_ptr<void> m_three, m_four;  // transforms by the number of channels; nothing: sRGB
    static std::shared_ptr<const ColourProfile> made(void* profile);
};
using SharedProfile = std::shared_ptr<const ColourProfile>;

// What an output's colours are; nothing: sRGB. Errors: BadInput for a profile that is not in the work or broken.
base::Result<SharedProfile> profileOf(const work::Work& work, const work::Output& output);
// Makes a profile part of the work, once; returns its name there. Errors: as ColourProfile::read().
base::Result<std::string> addProfile(work::Work& work, const std::string& name, const std::vector<std::uint8_t>& bytes);

}  // namespace files
