// Exposes a film: samples, round by round, until a rule says stop.
#pragma once

#include <functional>

#include "base/progress.h"
#include "base/result.h"
#include "denoise/noise.h"
#include "picture/raster.h"
#include "render/scene.h"
#include "render/stop_rule.h"
#include "render/tracer.h"

namespace render {

using namespace base;  // lanes are arithmetic, and used like it
using namespace film;  // what is exposed

struct RoundStatus {
    double samples = 0;  // mean over the pixels
    double noise = -1;   // -1: not known yet
    double secondsLeft = -1;
};

// Who is told how far a render is.
struct Sink {
    std::function<void(const RoundStatus&)> onRound;  // after every round, on the calling thread
    // When set, called with the picture so far whenever it has become clearly better; cleaned in the fast form at first.
    std::function<void(const RoundStatus&, const LightShares&)> onPicture;
};

struct RenderSettings {
    StopRule stop;
    std::uint32_t seed = 0;
    Viewing viewing;                             // needed for noise; without it noise is not estimated
    denoise::Mode denoise = denoise::Mode::Off;  // of what is seen; the film stays as gathered
    Sink sink;
    bool gentle = false;                   // first rounds of one sample, for a live picture
    std::shared_ptr<const BodyTree> tree;  // of the scene's bodies, when there is one already
};

enum class Stopped { BySamples, BySeconds, ByNoise, ByRequest };

struct RenderReport {
    Stopped reason = Stopped::BySamples;
    std::uint64_t rays = 0, paths = 0;
    double seconds = 0;
    double noise = -1;
    double samples = 0;  // mean over the pixels
    LightShares shares;  // what was gathered, cleaned as wished; as gathered after a stop by request
};

// Renders onto the film from where it stands. The same scene, seed and number of samples give the same film with any number
// of threads; a pixel depends only on its place, the seed and its samples, so tiles and regions match exactly.
// Without a rule for noise every pixel gets the same number of samples. With one, from the 16th sample on, samples go where noise is
// seen: each pixel gets as many as bring it to the wanted noise, as far as can be told from the halves, by four times as many at most.
// Noise ends a render from its eighth sample on.
// A stop by request or by time keeps what is there and is no error. Runs on parallelFor's threads.
base::Result<RenderReport> render(const Scene& scene, const RenderSettings& settings, Film& film, const base::Progress& progress);

}  // namespace render
