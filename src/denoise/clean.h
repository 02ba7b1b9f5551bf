// Noise reduction: averages pixels that show the same thing.
//
// Full form: a joint non-local means filter (F. Rousselle, M. Manzi, M. Zwicker, Robust denoising using feature and color information,
// 2013) and a first-order regression on the guides with non-local weights (B. Bitterli and others, Nonlinearly weighted first-order
// regression for denoising Monte Carlo renderings, 2016) are mixed softly by their estimated errors. Where we differ:
// - colour is divided by the albedo of the first rough thing first, which keeps textures and edges as sharp as the guides are;
// - the average's weights come from patch distances in the whole picture, not across halves; the regression's from the average;
// - edges are as good as many more first hits make them, which cost little: the film has some for every pixel that shows an edge;
// - predictions of overlapping windows are averaged, and a little of the pixel's own value is kept;
// - what the filters took away on the whole is given back by a coarse, blurred residual, so that brightness stays.
// Weights are found once, from the lights in white, each by its brightness in steps of four, and are the same for every light's
// share: the parts still add up, the desk can be moved without filtering again, and its small moves change no weight.
// Fast form, for while something moves and the first samples: an edge-stopping wavelet of three levels (H. Dammertz and others,
// Edge-avoiding a-trous wavelet transform, 2010) guided by luminance over its noise, normal and distance; the first level compares means of
// 3 x 3 pixels.
#pragma once

#include "base/progress.h"
#include "base/result.h"
#include "film/shares.h"

namespace denoise {

using namespace film;  // what is cleaned: the room beside

enum class Mode { Off, Fast, Full };

struct CleanSettings {
    Mode form = Mode::Full;
    std::vector<Rgb> desk;  // factor of each entry, linear; empty: all 1
    // A fifth of the picture only, in tiles spread over it, by the full form whatever the samples: enough for a guess at its noise.
    bool glimpse = false;
};

// Samples of every pixel. With fewer the full form is better as well (bench/noise.cpp), but takes longer than the samples do.
inline constexpr std::uint32_t kFullFrom = 4;

struct Cleaned {
    Mode form = Mode::Off;          // that was used
    std::vector<Film::Rect> parts;  // px of the region that are cleaned: all, or what is glimpsed
    LightShares shares;
    // The two halves of what the desk mixes through the same filter, six channels, linear and premultiplied: their difference tells the
    // noise that is left. Off: the halves as gathered; for the fast form empty.
    picture::Raster<float> halves;
};

// Cleans a film. Coverage stays as gathered, with the first hits of edges. Full form only where every pixel has kFullFrom samples, else
// the fast one. With two threads 2.5 to 3 s a million pixels for the full form and up to four entries, in tiles of some 50 MB a thread, and
// 0.15 s for the fast one (bench/noise.cpp); the same with any number of threads. A region is cleaned without what lies beyond it.
// Errors: Stopped, within 50 ms.
base::Result<Cleaned> clean(const Film& film, const CleanSettings& settings, const base::Progress& progress);

}  // namespace denoise
