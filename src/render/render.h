// Exposes a film: samples, round by round, until a rule says stop.
#pragma once

#include <functional>

#include "base/progress.h"
#include "base/result.h"
#include "picture/raster.h"
#include "render/film.h"
#include "render/scene.h"
#include "render/tracer.h"

namespace render {

// The first rule that is met stops the render; 0 switches a rule off, but at least one must be on.
struct StopRule {
    std::uint32_t samples = 64;
    double seconds = 0;
    double noise = 0;  // see estimateNoise()

    bool operator==(const StopRule&) const = default;
};

// A pixel as it will be seen: means of the entries and of coverage (premultiplied, linear) to encoded colour, 0 to 1.
using Display = std::function<Rgb(const Rgb* entries, float alpha)>;

struct RoundStatus {
    double samples = 0;      // mean over the tiles
    double noise = -1;       // -1: not known yet
    double secondsLeft = -1;
};

struct RenderSettings {
    StopRule stop;
    std::uint32_t seed = 0;
    Display display;                                 // needed for noise; without it noise is not estimated
    std::function<void(const RoundStatus&)> onRound; // after every round, on the calling thread
    bool gentle = false;                             // first rounds of one sample, for a live picture
    std::shared_ptr<const BodyTree> tree;            // of the scene's bodies, when there is one already
};

enum class Stopped { BySamples, BySeconds, ByNoise, ByRequest };

struct RenderReport {
    Stopped reason = Stopped::BySamples;
    std::uint64_t rays = 0, paths = 0;
    double seconds = 0;
    double noise = -1;
    double samples = 0;  // mean over the tiles
};

// Renders onto the film from where it stands. The same scene, seed and number of samples give the same film with any number
// of threads; a pixel depends only on its place, the seed and its samples, so tiles and regions match exactly.
// A stop by request or by time keeps what is there and is no error. Runs on parallelFor's threads.
base::Result<RenderReport> render(const Scene& scene, const RenderSettings& settings, Film& film, const base::Progress& progress);

// Noise: the 95th percentile over the frame of the standard error of the displayed value, in 1/255. The error of each pixel
// comes from the two halves, averaged over 7 x 7 pixels. -1 with under 2 samples. O(pixels).
double estimateNoise(const Film& film, const Display& display);

// The film as named passes, for the region it holds: "light.<entry>", "alpha", "albedo", "normal", "depth", "ids" (piece,
// letter, part), "samples". Colours are means, premultiplied; depth is the mean of what was hit.
picture::Passes passesFrom(const Film& film);

}  // namespace render
