// When a render stops.
#pragma once

#include <cstdint>

namespace render {

// The first rule that is met stops the render; 0 switches a rule off, but at least one must be on.
struct StopRule {
    std::uint32_t samples = 64;
    double seconds = 0;
    double noise = 0;  // see denoise/noise.h; 1.5 looks clean

    bool operator==(const StopRule&) const = default;
};

}  // namespace render
