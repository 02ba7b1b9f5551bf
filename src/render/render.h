// Exposes a film: samples, round by round, until a rule says stop.
#pragma once

#include <functional>

#include "base/progress.h"
#include "base/result.h"
#include "picture/raster.h"
#include "render/denoise.h"
#include "render/film.h"
#include "render/scene.h"
#include "render/tracer.h"

namespace render {

// The first rule that is met stops the render; 0 switches a rule off, but at least one must be on.
struct StopRule {
    std::uint32_t samples = 64;
    double seconds = 0;
    double noise = 0;  // see estimateNoise(); 1.5 looks clean

    bool operator==(const StopRule&) const = default;
};

// The picture as it will be seen: factors of the entries, exposure within, and the way from mixed light and coverage (premultiplied,
// linear) to encoded colour, 0 to 1.
struct Viewing {
    std::vector<Rgb> desk;
    std::function<Rgb(Rgb light, float alpha)> shown;
};

struct RoundStatus {
    double samples = 0;      // mean over the pixels
    double noise = -1;       // -1: not known yet
    double secondsLeft = -1;
};

struct RenderSettings {
    StopRule stop;
    std::uint32_t seed = 0;
    Viewing viewing;                                 // needed for noise; without it noise is not estimated
    Denoise denoise = Denoise::Off;                  // of what is seen; the film stays as gathered
    std::function<void(const RoundStatus&)> onRound; // after every round, on the calling thread
    // When set, called with the picture so far whenever it has become clearly better; cleaned in the fast form at first.
    std::function<void(const RoundStatus&, const LightShares&)> onPicture;
    bool gentle = false;                             // first rounds of one sample, for a live picture
    std::shared_ptr<const BodyTree> tree;            // of the scene's bodies, when there is one already
};

enum class Stopped { BySamples, BySeconds, ByNoise, ByRequest };

struct RenderReport {
    Stopped reason = Stopped::BySamples;
    std::uint64_t rays = 0, paths = 0;
    double seconds = 0;
    double noise = -1;
    double samples = 0;  // mean over the pixels
    LightShares shares;  // what was gathered, cleaned as wished; in the fast form after a stop by request
};

// Renders onto the film from where it stands. The same scene, seed and number of samples give the same film with any number
// of threads; a pixel depends only on its place, the seed and its samples, so tiles and regions match exactly.
// Without a rule for noise every pixel gets the same number of samples. With one, from the 16th sample on, samples go where noise is
// seen: each pixel gets as many as bring it to the wanted noise, as far as can be told from the halves, by four times as many at most.
// A stop by request or by time keeps what is there and is no error. Runs on parallelFor's threads.
base::Result<RenderReport> render(const Scene& scene, const RenderSettings& settings, Film& film, const base::Progress& progress);

// Noise: the 95th percentile over the frame of the standard error of the displayed value, in 1/255. The error of each pixel
// comes from the two halves, averaged over 7 x 7 pixels; with noise reduction, from the halves after it, times what the halves do not
// see because their filter is the same (measured, see bench/). -1 with under 2 samples and for the fast form. O(pixels).
double estimateNoise(const Film& film, const Cleaned& cleaned, const Viewing& viewing);

// The film as named passes, for the region it holds: "light.<entry>", "alpha", "albedo", "normal", "depth", "ids" (piece,
// letter, part), "samples". Colours are means, premultiplied, and those of the lights come from `shares`; depth is the mean of what
// was hit.
picture::Passes passesFrom(const Film& film, const LightShares& shares);

}  // namespace render
