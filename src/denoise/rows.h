// Inner loops of noise reduction, over rows of pixels. Each is built for several instruction sets; the best is taken when the program
// starts. Nothing is checked: rows must be as long as they are told to be.
#pragma once

#include <cstddef>
#include <span>

namespace denoise::rows {

inline constexpr int kLanes = 16;  // pixels that are worked on together

// to[i] += weights[i] * values[i]
void addWeighted(const float* weights, const float* values, int count, float* to);
// to[i] += factor * values[i]
void addScaled(float factor, const float* values, int count, float* to);
// to[i] *= factors[i]
void multiply(const float* factors, int count, float* to);

// Sums over values `step` apart, `radius` before and after each.
void boxSums(const float* values, std::ptrdiff_t step, int radius, int count, float* to);

// --- The fast form ---

// One row of the planes it looks at, at the pixel; what is compared lies `offset` floats further.
struct FastRow {
    static constexpr int kGuides = 9;
    const float* guides[kGuides];     // scaled, so that their squared differences add up; the last is coverage
    const float *light, *lightNoise;  // of the mix or of what is round the pixel, and its squared noise: how like two pixels are
    const float* noise;               // of the pixel's own light, squared
};
// Weights of one neighbour for a row, `kernel` times how like it is, `least` at least, 0 where either shows nothing; their sums and those
// of squared weights times noise are added up.
void fastWeights(const FastRow& row, std::ptrdiff_t offset, float kernel, float least, int count, float* weights, float* sums,
                 float* noises);
// For each pixel among `offsets`, those that show something and face the same way: their mean light, and its squared spread.
void fastSpread(const FastRow& row, std::span<const std::ptrdiff_t> offsets, int count, float* mean, float* spread);
// sums: 1 / sum, 0 for none; noises: their mean.
void fastMeans(int count, float* sums, float* noises);

// --- The full form ---

// Planes of guides that are compared as one thing: one, or three.
struct GuideGroup {
    int from, to;
    float like;  // squared difference that always counts as like
};

// Differences of pixels `offset` apart beyond their noise, over their noise, summed over three channels.
void differences(const float* const* mean, const float* const* variance, std::ptrdiff_t offset, int count, float* out);
// Mean of 3 x 3 differences and three channels, at least 0. `rows`: three rows of differences, from one pixel before.
void patchMeans(const float* const* rows, int count, float* out);
// How like pixels `offset` apart are, 0 to 1: e to the negative of the largest of patch distance and differences of guides, each times its
// width. `variances` and `widths` are those of the groups.
void likeness(const float* distances, float distanceWidth, std::span<const GuideGroup> groups, const float* const* guides,
              const float* const* variances, const float* const* widths, std::ptrdiff_t offset, int count, float* out);
// How like the pixels of a window are to one of them, by what is already filtered: e to the negative of their squared difference beyond
// its noise, over its noise, times `width`; a difference of the root of `unseen` is none; `least` at least.
struct PilotWidths {
    float width, unseen, least;
};
// `pilot`, `variance`: at the window's first pixel, rows `pitch` apart; `side` times `side` pixels, compared to the one `centre` across and
// down.
void pilotLikeness(const float* const* pilot, const float* variance, int pitch, int side, int centre, const PilotWidths& widths,
                   float* out);

}  // namespace denoise::rows
