// How noisy a picture still is, and where more samples should go.
#pragma once

#include "denoise/clean.h"
#include "film/viewing.h"

namespace denoise {

inline constexpr double kMostGrowth = 4;      // of a pixel's samples in one plan
inline constexpr double kLeastGrowth = 0.25;  // of all samples in one plan
inline constexpr double kLeastShare = 0.25;   // of the mean number of samples that every pixel gets, for what was not seen yet

// Mean over (2 radius + 1)^2 values, fewer at the edges.
void boxMean(std::vector<float>& values, int width, int height, int radius);

// Squared standard error of every displayed pixel of the cleaned parts, one part after the other, in encoded units, mean of the three
// channels and of 7 x 7 pixels.
std::vector<float> squaredErrors(const Cleaned& cleaned, const Viewing& viewing);

// Noise: the 95th percentile over the frame of the standard error of the displayed value, in 1/255. The error of each pixel
// comes from the two halves, averaged over 7 x 7 pixels; with noise reduction, from the halves after it, times what the halves do not
// see because their filter is the same (measured, see bench/). -1 with under 2 samples and for the fast form. O(pixels).
double estimateNoise(const Film& film, const Cleaned& cleaned, const Viewing& viewing);

// The noise number: 95th percentile, in 1/255. -1 for an empty picture.
double noiseFrom(std::vector<float> squaredErrors);

// Samples for each pixel, `most` at most, that bring it to this noise, as far as errors tell. The same as now when what is still noisy
// has as many as it may have.
std::vector<std::uint32_t> goalFor(double noise, const std::vector<std::uint32_t>& samples, std::uint32_t most,
                                   std::vector<float> squaredErrors, int width, int height);

}  // namespace denoise
