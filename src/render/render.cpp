#include "render/render.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>

#include "base/parallel.h"
#include "base/pool.h"
#include "denoise/noise.h"
#include "render/camera.h"
#include "render/flush.h"
#include "render/integrator.h"

namespace render {

namespace {

using Clock = std::chrono::steady_clock;

constexpr float kFilterRadius = 0.9f;  // px; a tent, drawn by importance, so that every sample counts for one pixel
constexpr float kMostEdgeRays = 256;   // first hits of a pixel that shows an edge, kLanes for each sample
constexpr std::uint32_t kEdgeSeed = 0x5eed0edbu;
constexpr std::uint32_t kLargestRound = 16;
constexpr std::uint32_t kLookFrom = 8;  // samples from which noise decides: before, fine detail has more than its number tells
constexpr std::uint32_t kGlimpseFrom = 4;
constexpr std::uint32_t kAdaptiveFrom = 16;

Wide tent(Wide u)
{
    return select(u < 0.5f, root(2 * u) - 1, 1 - root(max(Wide(0), 2 - 2 * u)));
}

// Which samples are taken together: kLanes at most.
struct Draws {
    BitLanes x{}, y{}, sample{};
    int count = 0;

    void add(int atX, int atY, std::uint32_t number)
    {
        x[count] = static_cast<std::uint32_t>(atX);
        y[count] = static_cast<std::uint32_t>(atY);
        sample[count++] = number;
    }
};

// Rays through pixels, chosen by the pixel filter, with the samplers that go on from there.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
aimRays(const FilmShape& shape, const Camera& camera, const Draws& draws, std::uint32_t seed, SamplerOf<Wide>& sampler, V3<Wide>& origins,
        V3<Wide>& directions)
{
    sampler = SamplerOf<Wide>(draws.x, draws.y, draws.sample, seed);
    const auto [u, v] = sampler.next2();
    cameraRays(camera, shape.width, shape.height, asFloat(draws.x) + 0.5f + kFilterRadius * tent(u),
               asFloat(draws.y) + 0.5f + kFilterRadius * tent(v), origins, directions);
    if (camera.lensRadius > 0) {
        const auto [across, up] = sampler.next2();
        throughLens(camera, across, up, origins, directions);
    }
}

void addSample(const Film::Target& to, std::uint32_t sample, const PathBatch& batch, int path)
{
    Rgb* colours = to.colours[sample & 1];
    const Rgb* light = batch.light(path);
    for (std::size_t i = 0; i < batch.entryCount(); ++i) {
        colours[i] += light[i];
        to.squares[i] += luminance(light[i]) * luminance(light[i]);
    }
    *to.halves[sample & 1] += batch.guides(path);
    to.ids->add(batch.id(path), 1);
}

// True when a sample shows something else than the pixel's first one, or what faces another way than those before.
bool showsAnEdge(const Film::Target& seen, const PathBatch& batch, int path)
{
    if (batch.id(path) != seen.ids->first())
        return true;
    if (batch.isRelief(path))
        return false;
    constexpr float kLike = 0.97f;  // cosine: 14 degrees
    const Vec3f before = seen.halves[0]->normal + seen.halves[1]->normal;
    return dot(batch.guides(path).normal, before) < kLike * length(before);
}

struct Counters {
    std::atomic<std::uint64_t> rays{0}, paths{0};
};

// Exposes tiles, on one thread.
class TileExposer {
public:
    TileExposer(const Scene& scene, const Integrator& integrator, std::uint32_t seed, Film& film, Counters& counters)
        : m_scene(scene),
          m_integrator(integrator),
          m_seed(seed),
          m_film(film),
          m_counters(counters),
          m_pixelPt(static_cast<float>(scene.camera.frameWidth / film.shape().width)),
          m_batch(scene, m_pixelPt)
    {
    }

    // Takes a tile to the end of the round.
    void expose(int tile)
    {
        const FlushToZero mode;
        const Film::Rect r = m_film.tileRect(tile);
        std::uint32_t from[Film::kTile * Film::kTile], *next = from;
        for (int y = r.y0; y < r.y1; ++y)
            for (int x = r.x0; x < r.x1; ++x)
                *next++ = m_film.samplesAt(x, y);
        m_film.beginTile(tile);
        next = from;
        for (int y = r.y0; y < r.y1; ++y)
            for (int x = r.x0; x < r.x1; ++x) {
                const std::uint32_t first = m_film.firstSample(), end = first + m_film.wantedAt(x, y);
                for (std::uint32_t sample = first + *next++; sample < end; ++sample) {
                    m_waiting[m_count++] = {x, y, sample};
                    if (m_count == PathBatch::kSize)
                        exposeBatch();
                }
            }
        exposeBatch();
        m_film.endTile(tile);
    }

private:
    struct Waiting {
        int x = 0, y = 0;
        std::uint32_t sample = 0;
    };

    void exposeBatch()
    {
        m_batch.clear();
        SamplerOf<Wide> sampler;
        V3<Wide> origins, directions;
        for (int first = 0; first < m_count; first += kLanes) {
            Draws draws;
            for (int i = first; i < std::min(m_count, first + kLanes); ++i)
                draws.add(m_waiting[i].x, m_waiting[i].y, m_waiting[i].sample);
            aimRays(m_film.shape(), m_scene.camera, draws, m_seed, sampler, origins, directions);
            m_batch.add(origins, directions, sampler, draws.count);
        }
        m_counters.rays += m_integrator.trace(m_batch);
        m_counters.paths += static_cast<std::uint64_t>(m_count);
        for (int path = 0; path < m_count; ++path) {
            const auto [x, y, sample] = m_waiting[path];
            const Film::Target target = m_film.targetAt(x, y);
            const bool isEdge = target.edge->rays > 0 || (sample > m_film.firstSample() && showsAnEdge(target, m_batch, path));
            addSample(target, sample, m_batch, path);
            if (isEdge && target.edge->rays < kMostEdgeRays)
                addEdgeRays(*target.edge, x, y);
        }
        m_count = 0;
    }

    void addEdgeRays(EdgeSums& edge, int x, int y)
    {
        Draws draws;
        for (int i = 0; i < kLanes; ++i)
            draws.add(x, y,
                      2 * (kLanes * m_film.firstSample() + static_cast<std::uint32_t>(edge.rays) +
                           static_cast<std::uint32_t>(i)));  // all of one sequence
        SamplerOf<Wide> sampler;
        V3<Wide> origins, directions;
        aimRays(m_film.shape(), m_scene.camera, draws, m_seed ^ kEdgeSeed, sampler, origins, directions);
        PixelSums guides[kLanes];
        m_integrator.firstHits(origins, directions, m_pixelPt, guides);
        for (const PixelSums& g : guides) {
            edge.rays += 1;
            edge.alpha += g.alpha;
            edge.albedo += g.albedo;
            edge.normal += g.normal;
            edge.depth += g.depth;
        }
    }

    const Scene& m_scene;
    const Integrator& m_integrator;
    const std::uint32_t m_seed;
    Film& m_film;
    Counters& m_counters;
    const float m_pixelPt;  // width of a pixel in the frame's plane
    PathBatch m_batch;
    Waiting m_waiting[PathBatch::kSize];
    int m_count = 0;
};

double since(Clock::time_point start)
{
    return std::chrono::duration<double>(Clock::now() - start).count();
}

// Even goals: doubling, so that there is something to keep and to look at soon.
std::uint32_t nextEven(std::uint32_t done, bool gentle)
{
    return done < 1 ? 1 : gentle ? 2 * done : std::max(4u, 2 * done);
}

// A number of each pixel, row by row of the region.
template <class Of>
std::vector<std::uint32_t> ofPixels(const Film& film, Of of)
{
    const FilmShape& s = film.shape();
    std::vector<std::uint32_t> numbers;
    numbers.reserve(static_cast<std::size_t>(s.regionWidth) * static_cast<std::size_t>(s.regionHeight));
    for (int y = s.regionY; y < s.regionY + s.regionHeight; ++y)
        for (int x = s.regionX; x < s.regionX + s.regionWidth; ++x)
            numbers.push_back(of(x, y));
    return numbers;
}

std::vector<std::uint32_t> samplesOf(const Film& film)
{
    return ofPixels(film, [&](int x, int y) { return film.samplesAt(x, y); });
}

// One render: the loop of goals and rounds, and what it knows of time and noise.
class Exposure {
public:
    Exposure(const Scene& scene, const RenderSettings& settings, Film& film, const base::Progress& progress)
        : m_scene(scene),
          m_settings(settings),
          m_stop(settings.stop),
          m_film(film),
          m_progress(progress),
          m_start(Clock::now()),
          m_tracer(scene, settings.tree),
          m_integrator(scene, m_tracer),
          m_before(film.meanSamples())
    {
        (void)m_integrator.learnThrownLight(progress.stopToken());
    }

    RenderReport run()
    {
        RenderReport report;
        report.reason = untilStopped();
        report.seconds = since(m_start);
        report.samples = m_film.meanSamples();
        if (m_film.leastSamples() > 0 || report.reason != Stopped::ByRequest) {
            // Who stops does not want to wait for noise reduction.
            if (report.reason == Stopped::ByRequest) {
                report.shares = sharesOf(m_film);
            } else {
                if (!m_isClean)
                    (void)clean(m_settings.denoise, {});
                report.shares = std::move(m_cleaned.shares);
            }
        }
        report.noise = m_noise;
        report.rays = m_counters.rays;
        report.paths = m_counters.paths;
        return report;
    }

private:
    bool outOfTime() const { return m_stop.seconds > 0 && since(m_start) + m_cleaningSeconds >= m_stop.seconds; }

    Stopped untilStopped()
    {
        if (m_stop.samples > 0 && m_film.leastSamples() >= m_stop.samples)
            return Stopped::BySamples;
        limitGoal();
        for (;;) {
            if (!m_film.roundEnded() && !exposeRound())
                return m_progress.stopRequested() ? Stopped::ByRequest : Stopped::BySeconds;
            if (m_film.leastSamples() > 0) {
                const bool reached = m_film.goalReached();
                if (reached && !look())
                    return Stopped::ByRequest;
                if (m_settings.sink.onRound)
                    m_settings.sink.onRound(status());
                if (m_stop.samples > 0 && m_film.leastSamples() >= m_stop.samples)
                    return Stopped::BySamples;
                if (m_stop.noise > 0 && reached && m_film.leastSamples() >= kLookFrom && m_noise >= 0 && m_noise <= m_stop.noise)
                    return Stopped::ByNoise;
                if (outOfTime())
                    return Stopped::BySeconds;
            }
            if (m_film.goalReached()) {
                const std::vector<std::uint32_t> samples = samplesOf(m_film), goal = nextGoal(samples);
                if (goal == samples)
                    return Stopped::BySamples;  // what is still noisy has as many as it may have
                m_film.setGoal(goal);
            }
            m_film.beginRound(roundSize());
            m_isClean = false;
        }
    }

    // Where few pixels are exposed, each gets more at once: a round is about kLargestRound samples for every pixel of the picture.
    std::uint32_t roundSize() const
    {
        const std::vector<std::uint32_t> samples = samplesOf(m_film),
                                         goals = ofPixels(m_film, [&](int x, int y) { return m_film.goalAt(x, y); });
        std::size_t waiting = 0;
        for (std::size_t i = 0; i < goals.size(); ++i)
            waiting += goals[i] > samples[i];
        return kLargestRound * static_cast<std::uint32_t>(std::min<std::size_t>(16, goals.size() / std::max<std::size_t>(1, waiting)));
    }

    // A goal from an earlier run may lie beyond this one's.
    void limitGoal()
    {
        if (m_stop.samples == 0 || m_film.goalReached())
            return;
        std::vector<std::uint32_t> goals = ofPixels(m_film, [&](int x, int y) { return m_film.goalAt(x, y); });
        const std::vector<std::uint32_t> samples = samplesOf(m_film);
        for (std::size_t i = 0; i < goals.size(); ++i)
            goals[i] = std::max(samples[i], std::min(goals[i], m_stop.samples));
        m_film.setGoal(goals);
    }

    std::vector<std::uint32_t> nextGoal(std::vector<std::uint32_t> samples) const
    {
        const std::uint32_t most = m_stop.samples > 0 ? m_stop.samples : ~0u;
        if (m_stop.noise > 0 && m_errors.size() == samples.size() && m_film.leastSamples() >= kAdaptiveFrom) {
            const FilmShape& s = m_film.shape();
            return denoise::goalFor(m_stop.noise, samples, most, m_errors, s.regionWidth, s.regionHeight);
        } else {
            const std::uint32_t even = std::min(most, nextEven(m_film.leastSamples(), m_settings.gentle || m_stop.seconds > 0));
            for (std::uint32_t& n : samples)
                n = std::max(n, even);
        }
        return samples;
    }

    // False when it did not come to the end.
    bool exposeRound()
    {
        const Clock::time_point start = Clock::now();
        const std::uint32_t done = m_film.leastSamples();
        const double pixels = static_cast<double>(m_film.shape().regionWidth) * m_film.shape().regionHeight;
        std::atomic<bool> whole{true};
        base::parallelFor(static_cast<std::size_t>(m_film.tileCount()), [&](std::size_t index) {
            const int tile = static_cast<int>(index);
            if (m_film.tileEnded(tile))
                return;
            if (m_progress.stopRequested() || (done >= 1 && outOfTime())) {
                whole = false;
                return;
            }
            m_exposers.take()->expose(tile);
            if (m_stop.samples > 0 && m_stop.noise <= 0)
                m_progress.set(std::min(1.0, (m_before + static_cast<double>(m_counters.paths) / pixels) / m_stop.samples));
        });
        m_exposingSeconds += since(start);
        return whole;
    }

    // The picture at a goal: cleaned when it will be looked at or decides something. False when stopped meanwhile.
    bool look()
    {
        const bool canSee = m_settings.viewing.shown != nullptr;
        const std::uint32_t least = m_film.leastSamples();
        if (m_settings.sink.onPicture) {
            if (!clean(m_settings.denoise, m_progress))
                return false;
            m_settings.sink.onPicture(status(), m_cleaned.shares);
            return true;
        }
        // Until noise decides where samples go, a glimpse tells how long it will take.
        if (canSee && least >= kGlimpseFrom && (least < kAdaptiveFrom || m_stop.noise <= 0) && m_settings.denoise == denoise::Mode::Full &&
            !glimpse())
            return false;
        const bool decides = canSee && m_stop.noise > 0 && least >= kLookFrom && (least >= kAdaptiveFrom || m_noise < 1.5 * m_stop.noise);
        return !decides || clean(m_settings.denoise, m_progress);
    }

    bool glimpse()
    {
        const Clock::time_point start = Clock::now();
        const auto cleaned =
            denoise::clean(m_film, {denoise::Mode::Full, m_settings.viewing.desk, true}, base::Progress(m_progress.stopToken()));
        if (!cleaned)
            return false;
        std::int64_t area = 0;
        for (const Film::Rect& part : cleaned->parts)
            area += static_cast<std::int64_t>(part.x1 - part.x0) * (part.y1 - part.y0);
        m_cleaningSeconds =
            since(start) * m_film.shape().regionWidth * m_film.shape().regionHeight / static_cast<double>(std::max<std::int64_t>(1, area));
        m_noise = denoise::noiseFrom(denoise::squaredErrors(*cleaned, m_settings.viewing));
        expectSamples();
        return true;
    }

    bool clean(denoise::Mode form, const base::Progress& progress)
    {
        const Clock::time_point start = Clock::now();
        auto cleaned = denoise::clean(m_film, {form, m_settings.viewing.desk}, base::Progress(progress.stopToken()));
        if (!cleaned)
            return false;
        m_cleaned = std::move(*cleaned);
        m_isClean = form == m_settings.denoise;
        m_errors.clear();
        if (m_settings.viewing.shown && m_film.leastSamples() >= 2 && m_cleaned.form != denoise::Mode::Fast) {
            m_errors = denoise::squaredErrors(m_cleaned, m_settings.viewing);
            m_noise = denoise::noiseFrom(m_errors);
            expectSamples();
        }
        m_cleaningSeconds = since(start);
        return true;
    }

    // Noise falls with the root of the number of samples, somewhat faster when they go where it is; early guesses count as well, as it
    // falls fast at first and slowly in the end.
    void expectSamples()
    {
        const double power = m_film.leastSamples() < kAdaptiveFrom ? 2 : 1.7;
        const double now = m_film.meanSamples() * std::pow(m_noise / std::max(1e-6, m_stop.noise), power);
        m_mostWanted = std::max(m_mostWanted, now);
        m_samplesWanted = std::max({(m_mostWanted + now) / 2, m_film.meanSamples(), static_cast<double>(kAdaptiveFrom)});
        if (m_samplesWanted > kAdaptiveFrom)
            m_samplesWanted = std::max(m_samplesWanted, kAdaptiveFrom * (1 + denoise::kLeastGrowth));  // no plan adds less
    }

    // Until the noise is as wanted. Samples that go where noise is take longer: more of them meet something.
    double secondsUntilClean(double samples, double rate) const
    {
        constexpr double kHarder = 1.3;
        const double even = std::clamp(kAdaptiveFrom - samples, 0.0, std::max(0.0, m_samplesWanted - samples));
        return (even + kHarder * std::max(0.0, m_samplesWanted - samples - even)) / rate + (even > 0 ? 2 : 1) * m_cleaningSeconds;
    }

    RoundStatus status()
    {
        RoundStatus status{m_film.meanSamples(), m_noise, -1};
        const double rate = (status.samples - m_before) / std::max(1e-6, m_exposingSeconds);
        double left = m_stop.samples > 0 ? (m_stop.samples - status.samples) / rate : 1e30;
        if (m_stop.noise > 0 && m_settings.viewing.shown)
            left = std::min(left, secondsUntilClean(status.samples, rate));
        if (m_stop.seconds > 0)
            left = std::min(left, m_stop.seconds - since(m_start));
        status.secondsLeft = left < 1e29 ? std::max(0.0, left) : -1;
        if (m_stop.noise > 0 && status.secondsLeft >= 0)
            m_progress.set(since(m_start) / std::max(1e-6, since(m_start) + status.secondsLeft));
        return status;
    }

    const Scene& m_scene;
    const RenderSettings& m_settings;
    const StopRule m_stop;
    Film& m_film;
    const base::Progress& m_progress;
    const Clock::time_point m_start;
    const Tracer m_tracer;
    Integrator m_integrator;
    const double m_before;  // samples when it began
    Counters m_counters;
    base::Pool<TileExposer> m_exposers{
        [this] { return std::make_unique<TileExposer>(m_scene, m_integrator, m_settings.seed, m_film, m_counters); }};
    denoise::Cleaned m_cleaned;
    bool m_isClean = false;       // m_cleaned is of the film as it stands, in the wanted form
    std::vector<float> m_errors;  // of m_cleaned
    double m_noise = -1;
    // Mean over the pixels, for the noise that is asked for: what works often need, until the first look at noise.
    double m_samplesWanted = 64, m_mostWanted = 0;
    double m_exposingSeconds = 0;  // all rounds took
    double m_cleaningSeconds = 0;  // the last noise reduction took
};

}  // namespace

base::Result<RenderReport> render(const Scene& scene, const RenderSettings& settings, Film& film, const base::Progress& progress)
{
    const StopRule& stop = settings.stop;
    if (stop.samples == 0 && stop.seconds <= 0 && stop.noise <= 0)
        return base::fail(base::ErrorCode::BadUsage, "Say when the render should stop: samples, seconds or noise");
    RenderReport report = Exposure(scene, settings, film, progress).run();
    if (film.isLost())
        return base::fail(base::ErrorCode::CannotRead,
                          "The film was cut off or its disk failed while it was exposed; delete it and render again");
    return report;
}

}  // namespace render
