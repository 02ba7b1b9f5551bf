// Pictures made step by step: a small graph of steps on images. A step says how far it looks round a pixel, so that the picture can be
// made in parts of any shape: each part is given as much surroundings as the steps after it ask for, and the parts equal the whole.
#pragma once

#include <functional>
#include <span>
#include <stop_token>
#include <vector>

#include "picture/raster.h"

namespace finish {

// Pixels x0 to before x1, y0 to before y1 of the whole picture.
struct Area {
    int x0 = 0, y0 = 0, x1 = 0, y1 = 0;

    bool operator==(const Area&) const = default;
    Area grownBy(int px, const Area& within) const;
    bool covers(const Area& other) const { return x0 <= other.x0 && y0 <= other.y0 && x1 >= other.x1 && y1 >= other.y1; }
};

// A part of a picture.
struct Image {
    Area area;
    picture::Raster<float> pixels;

    Image() = default;
    Image(const Area& a, int channels) : area(a), pixels(a.x1 - a.x0, a.y1 - a.y0, channels) {}
    // By place in the whole picture.
    float* at(int x, int y) { return pixels.at(x - area.x0, y - area.y0); }
    const float* at(int x, int y) const { return pixels.at(x - area.x0, y - area.y0); }
};

struct Step {
    std::vector<int> inputs;  // numbers of steps before it, or Graph::kSource
    int reach = 0;            // px round a pixel that it looks at, in every input
    int channels = 4;         // of what it makes
    // Fills all of `out`. Each input covers that and `reach` px round it, as far as the picture goes. Pure: the same inputs, the same
    // image.
    std::function<void(std::span<const Image* const> in, Image& out)> run;
};

class Graph {
public:
    static constexpr int kSource = -1;

    // Returns its number; the one added last is the result. Inputs must be numbers of steps that are there.
    int add(Step step);
    // px round a part of the result that the source must cover.
    int reach() const;
    // The result in `wanted`. `source` covers it and reach() px round it, as far as `whole` goes. O(sum of the steps). Asked to stop it
    // does so before the next step and returns nothing.
    Image run(const Image& source, const Area& wanted, const Area& whole, const std::stop_token& stop = {}) const;

private:
    // What of each step, and last of the source, is needed for the result.
    std::vector<int> reaches() const;

    std::vector<Step> m_steps;
};

}  // namespace finish
