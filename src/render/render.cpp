#include "render/render.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>

#include "base/parallel.h"
#include "render/camera.h"
#include "render/flush.h"
#include "render/integrator.h"

namespace render {

namespace {

using Clock = std::chrono::steady_clock;

constexpr float kFilterRadius = 0.9f;    // px; a tent, drawn by importance, so that every sample counts for one pixel
constexpr std::uint32_t kLargestRound = 16;
constexpr int kNoiseWindow = 3;          // px to each side

float tent(float u)
{
    return u < 0.5f ? std::sqrt(2 * u) - 1 : 1 - std::sqrt(2 - 2 * u);
}

void addSample(Film& film, int x, int y, std::uint32_t sample, const PathResult& path)
{
    const int half = static_cast<int>(sample & 1);
    PixelSums& sums = film.sums(x, y, half);
    Rgb* colours = film.colours(x, y, half);
    for (std::size_t i = 0; i < path.entries.size(); ++i)
        colours[i] += path.entries[i];
    sums.alpha += path.alpha;
    sums.albedo += path.albedo;
    sums.normal += path.normal;
    sums.depth += path.depth;
    if (sample == 0)
        film.id(x, y) = path.id;
}

struct Counters {
    std::atomic<std::uint64_t> rays{0}, paths{0};
};

void exposeTile(const Scene& scene, const Integrator& integrator, const RenderSettings& settings, Film& film, int tile,
                std::uint32_t upTo, Counters& counters)
{
    const FlushToZero mode;
    const Film::Rect r = film.tileRect(tile);
    const std::uint32_t from = film.samples(tile);
    const double perX = 1.0 / film.shape().width, perY = 1.0 / film.shape().height;
    PathResult path;
    std::uint64_t rays = 0;
    film.beginTile(tile);
    for (int y = r.y0; y < r.y1; ++y)
        for (int x = r.x0; x < r.x1; ++x)
            for (std::uint32_t sample = from; sample < upTo; ++sample) {
                Sampler sampler(x, y, sample, settings.seed);
                const auto [u, v] = sampler.next2();
                const Ray ray = cameraRay(scene.camera, (x + 0.5 + kFilterRadius * tent(u)) * perX, (y + 0.5 + kFilterRadius * tent(v)) * perY);
                integrator.trace(ray, sampler, path, rays);
                addSample(film, x, y, sample, path);
            }
    film.endTile(tile, upTo);
    counters.rays += rays;
    counters.paths += static_cast<std::uint64_t>(r.x1 - r.x0) * (r.y1 - r.y0) * (upTo - from);
}

double since(Clock::time_point start)
{
    return std::chrono::duration<double>(Clock::now() - start).count();
}

std::uint32_t roundSize(std::uint32_t done, bool gentle)
{
    if (done < 1 || (done < 4 && gentle))
        return 1;  // something to keep soon, should it be stopped
    return std::clamp<std::uint32_t>(done, gentle ? 1 : 3, kLargestRound);
}

// Squared standard error of every displayed pixel, in encoded units, mean of the three channels.
std::vector<float> squaredErrors(const Film& film, const Display& display)
{
    const FilmShape& s = film.shape();
    std::vector<float> errors(static_cast<std::size_t>(s.regionWidth) * s.regionHeight);
    base::parallelFor(static_cast<std::size_t>(s.regionHeight), [&](std::size_t row) {
        std::vector<Rgb> mean(s.entries.size());
        for (int column = 0; column < s.regionWidth; ++column) {
            const int x = s.regionX + column, y = s.regionY + static_cast<int>(row);
            const std::uint32_t n = film.samplesAt(x, y);
            Rgb seen[2];
            for (int half = 0; half < 2; ++half) {
                const std::uint32_t count = half == 0 ? (n + 1) / 2 : n / 2;
                if (count == 0)
                    return;
                const float scale = 1.0f / static_cast<float>(count);
                for (std::size_t i = 0; i < mean.size(); ++i)
                    mean[i] = film.colours(x, y, half)[i] * scale;
                seen[half] = display(mean.data(), film.sums(x, y, half).alpha * scale);
            }
            const Rgb d = seen[0] - seen[1];
            errors[row * static_cast<std::size_t>(s.regionWidth) + static_cast<std::size_t>(column)] = dot(d, d) / 12;
        }
    });
    return errors;
}

}  // namespace

double estimateNoise(const Film& film, const Display& display)
{
    if (film.leastSamples() < 2 || !display)
        return -1;
    const int w = film.shape().regionWidth, h = film.shape().regionHeight;
    const std::vector<float> errors = squaredErrors(film, display);
    // Box means by running sums, rows then columns.
    std::vector<float> rows(errors.size()), means(errors.size());
    base::parallelFor(static_cast<std::size_t>(h), [&](std::size_t y) {
        const float* in = errors.data() + y * static_cast<std::size_t>(w);
        for (int x = 0; x < w; ++x) {
            float sum = 0;
            const int a = std::max(0, x - kNoiseWindow), b = std::min(w - 1, x + kNoiseWindow);
            for (int i = a; i <= b; ++i)
                sum += in[i];
            rows[y * static_cast<std::size_t>(w) + static_cast<std::size_t>(x)] = sum / static_cast<float>(b - a + 1);
        }
    });
    base::parallelFor(static_cast<std::size_t>(h), [&](std::size_t y) {
        const int a = std::max(0, static_cast<int>(y) - kNoiseWindow), b = std::min(h - 1, static_cast<int>(y) + kNoiseWindow);
        for (int x = 0; x < w; ++x) {
            float sum = 0;
            for (int i = a; i <= b; ++i)
                sum += rows[static_cast<std::size_t>(i) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x)];
            means[y * static_cast<std::size_t>(w) + static_cast<std::size_t>(x)] = sum / static_cast<float>(b - a + 1);
        }
    });
    const auto rank = means.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(means.size() - 1) * 0.95);
    std::nth_element(means.begin(), rank, means.end());
    return 255 * std::sqrt(static_cast<double>(*rank));
}

base::Result<RenderReport> render(const Scene& scene, const RenderSettings& settings, Film& film, const base::Progress& progress)
{
    const StopRule& stop = settings.stop;
    if (stop.samples == 0 && stop.seconds <= 0 && stop.noise <= 0)
        return base::fail(base::ErrorCode::BadUsage, "Say when the render should stop: samples, seconds or noise");
    const Clock::time_point start = Clock::now();
    const Tracer tracer(scene, settings.tree);
    const Integrator integrator(scene, tracer);
    Counters counters;
    RenderReport report;
    const double samplesBefore = film.meanSamples();

    const auto outOfTime = [&] { return stop.seconds > 0 && since(start) >= stop.seconds; };
    for (;;) {
        const std::uint32_t done = film.leastSamples();
        if (stop.samples > 0 && done >= stop.samples) {
            report.reason = Stopped::BySamples;
            break;
        }
        std::uint32_t upTo = done + roundSize(done, settings.gentle || stop.seconds > 0);
        if (stop.samples > 0)
            upTo = std::min(upTo, stop.samples);
        std::atomic<int> finished{0};
        base::parallelFor(static_cast<std::size_t>(film.tileCount()), [&](std::size_t tile) {
            if (progress.stopRequested() || (done >= 1 && outOfTime()) || film.samples(static_cast<int>(tile)) >= upTo)
                return;
            exposeTile(scene, integrator, settings, film, static_cast<int>(tile), upTo, counters);
            const double round = static_cast<double>(++finished) / film.tileCount();
            if (stop.samples > 0)
                progress.set((done + round * (upTo - done)) / stop.samples);
        });
        if (progress.stopRequested() || outOfTime()) {
            report.reason = progress.stopRequested() ? Stopped::ByRequest : Stopped::BySeconds;
            break;
        }
        RoundStatus status;
        status.samples = film.meanSamples();
        if (settings.display && upTo >= 4 && (stop.noise > 0 || settings.onRound))
            report.noise = status.noise = estimateNoise(film, settings.display);
        const double rate = (status.samples - samplesBefore) / std::max(1e-6, since(start));
        double left = stop.samples > 0 ? (stop.samples - status.samples) / rate : 1e30;
        if (stop.seconds > 0)
            left = std::min(left, stop.seconds - since(start));
        if (stop.noise > 0 && status.noise > 0) {
            const double needed = status.samples * (status.noise * status.noise / (stop.noise * stop.noise));
            left = std::min(left, std::max(0.0, needed - status.samples) / rate);
            if (stop.samples == 0)
                progress.set(status.samples / std::max(needed, status.samples));
        }
        status.secondsLeft = left < 1e29 ? left : -1;
        if (settings.onRound)
            settings.onRound(status);
        if (stop.noise > 0 && status.noise >= 0 && status.noise <= stop.noise) {
            report.reason = Stopped::ByNoise;
            break;
        }
    }
    if (settings.display)
        report.noise = estimateNoise(film, settings.display);
    report.rays = counters.rays;
    report.paths = counters.paths;
    report.seconds = since(start);
    report.samples = film.meanSamples();
    return report;
}

}  // namespace render
