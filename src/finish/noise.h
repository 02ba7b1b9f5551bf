// Noise by hashes: the same at a place for every part and size of a picture.
#pragma once

#include <cstdint>

namespace finish {

// Smooth noise of mean 0 and standard deviation 1, with cells of size 1.
float noiseAt(double x, double y, std::uint32_t seed);

// Adds `strength` times the noise at (u + x * du, v + x * dv) for x from x0 to before x1; the processor takes several at once, at float's
// accuracy (some 1e-3 of a cell 10,000 cells away).
void addNoise(float* to, int x0, int x1, double u, double v, double du, double dv, float strength, std::uint32_t seed);

// A value of its own from 0 to before 1 for each number.
float chanceOf(std::uint32_t number, std::uint32_t seed);

}  // namespace finish
