// One window of the full noise reduction's regression; see denoise.h for the method.
#pragma once

#include <cstddef>
#include <vector>

namespace denoise {

// What belongs to one pixel, side by side: sixteen guides, or sixteen channels of light.
struct alignas(64) PixelLanes {
    static constexpr int kCount = 16;
    float v[kCount];
};

// First-order regression of light on the guides in a window of 16 x 16 pixels, and what it predicts there.
struct RegressionWindow {
    static constexpr int kSide = 16;
    static constexpr int kGuides = PixelLanes::kCount;

    // At the window's first pixel; rows are `pitch` pixels apart. Guides: lane 0 is 1.
    const PixelLanes* guides;
    const PixelLanes* noise;       // squared, of the guides
    const PixelLanes* predictors;  // guides that are known better
    const PixelLanes* centre;      // the guides of a pixel in the window: what is near zero there keeps its digits
    int pitch;
    const float* weights;          // 256, row by row
    float weightSum;               // above 0
    float leastVariance[kGuides];  // a guide counts when it varies by more, and
    float noiseFactor[kGuides];    // by this many times its noise
    float ridge;                   // of the weights

    // Light: `groups` of sixteen channels for each pixel. Predictions are added to `sums`, times their weight; the weights to `weightSums`.
    const PixelLanes* light;
    PixelLanes* sums;
    float* weightSums;
    int groups;

    // About 10,000 operations of sixteen numbers for each group.
    void regress() const;
};

namespace rows {

// For each pixel: to += sum of weights[k][i] * light[i + k], for `taps` rows of weights, `step` apart; the weights are added to `sums`.
void addNeighbours(const float* weights, std::ptrdiff_t step, int taps, const PixelLanes* light, int groups, int count, PixelLanes* to,
                   float* sums);

}  // namespace rows

}  // namespace denoise
