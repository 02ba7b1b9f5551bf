#include "denoise/noise.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace denoise {

namespace {

constexpr int kShared = 3;  // px to each side that share their error
// The halves go through the same weights, so what the weights have from noise they do not see: the squared error is so many times
// their difference's. Median over the scenes of bench/ at the 95th percentile; the noise told is 0.5 to 1.3 times the true one.
constexpr float kUnseen = 2.2f;
constexpr double kHeeded = 0.97;  // share of pixels whose own errors count for a plan; the number is that of 95 of a hundred
constexpr double kAim = 0.8;  // of the wanted noise: errors that looked small by chance come out larger, and another look takes its time
constexpr double kSlowness = 1.6;  // squared errors after noise reduction fall with samples to the power of -1 / 1.6, measured on works

}  // namespace

void boxMean(std::vector<float>& values, int width, int height, int radius)
{
    std::vector<float> rows(values.size());
    const auto rowOf = [width](std::vector<float>& of, std::size_t y) { return of.data() + y * static_cast<std::size_t>(width); };
    base::parallelFor(static_cast<std::size_t>(height), [&](std::size_t y) {
        const float* in = rowOf(values, y);
        double sum = 0;
        for (int x = 0; x < std::min(radius, width); ++x)
            sum += in[x];
        for (int x = 0; x < width; ++x) {
            if (x + radius < width)
                sum += in[x + radius];
            if (x - radius > 0)
                sum -= in[x - radius - 1];
            rowOf(rows, y)[x] = static_cast<float>(sum / (std::min(width - 1, x + radius) - std::max(0, x - radius) + 1));
        }
    });
    base::parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
        const int y = static_cast<int>(row), a = std::max(0, y - radius), b = std::min(height - 1, y + radius);
        float* out = rowOf(values, row);
        std::fill(out, out + width, 0.0f);
        for (int i = a; i <= b; ++i) {
            const float* in = rowOf(rows, static_cast<std::size_t>(i));
            for (int x = 0; x < width; ++x)
                out[x] += in[x];
        }
        for (int x = 0; x < width; ++x)
            out[x] /= static_cast<float>(b - a + 1);
    });
}

std::vector<float> squaredErrors(const Cleaned& cleaned, const Viewing& viewing)
{
    const float factor = (cleaned.form == Mode::Full ? kUnseen : 1) / 12;  // three channels, and half a difference squared
    std::vector<float> all;
    for (const Film::Rect& part : cleaned.parts) {
        const int width = part.x1 - part.x0, height = part.y1 - part.y0;
        std::vector<float> errors(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
        base::parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
            const int y = part.y0 + static_cast<int>(row);
            float* to = errors.data() + row * static_cast<std::size_t>(width);
            for (int x = part.x0; x < part.x1; ++x) {
                const float* h = cleaned.halves.at(x, y);
                const float alpha = cleaned.shares.alpha(x, y);
                const Rgb d = viewing.shown({h[0], h[1], h[2]}, alpha) - viewing.shown({h[3], h[4], h[5]}, alpha);
                *to++ = dot(d, d) * factor;
            }
        });
        boxMean(errors, width, height, kShared);
        all.insert(all.end(), errors.begin(), errors.end());
    }
    return all;
}

double noiseFrom(std::vector<float> errors)
{
    if (errors.empty())
        return -1;
    const auto rank = errors.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(errors.size() - 1) * 0.95);
    std::nth_element(errors.begin(), rank, errors.end());
    return 255 * std::sqrt(static_cast<double>(*rank));
}

namespace {

// How many times as many samples a pixel needs as it has.
class Need {
public:
    Need(double noise, const std::vector<float>& squaredErrors) : m_wanted(kAim * kAim * noise * noise / (255.0 * 255.0))
    {
        std::vector<float> ranked = squaredErrors;
        const auto rank = ranked.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(ranked.size() - 1) * kHeeded);
        std::nth_element(ranked.begin(), rank, ranked.end());
        m_worst = *rank;
    }
    // What the noise number does not ask for, a few pixels at edges, would take most of the time: they need what the others do at most.
    // More than in proportion, as what noise reduction leaves falls more slowly; and a tenth more, as the estimate is noisy itself.
    double times(float squaredError) const
    {
        return 1.1 * std::pow(static_cast<double>(std::min(squaredError, m_worst)) / m_wanted, kSlowness);
    }

private:
    double m_wanted;
    float m_worst = 0;
};

}  // namespace

std::vector<std::uint32_t> goalFor(double noise, const std::vector<std::uint32_t>& samples, std::uint32_t most, std::vector<float> errors,
                                   int width, int height)
{
    boxMean(errors, width, height, 2 * kShared);  // no blotches: neighbours get about as much
    const Need need(noise, errors);
    const double count = static_cast<double>(errors.size());
    double mean = 0, more = 0;
    bool isLimited = false;
    const auto limitOf = [&](std::size_t i) { return std::min(kMostGrowth, static_cast<double>(most) / samples[i]); };
    std::vector<double> times(errors.size());
    for (std::size_t i = 0; i < errors.size(); ++i) {
        const double needed = need.times(errors[i]);
        times[i] = std::max(1.0, std::min(limitOf(i), needed));
        isLimited = isLimited || (needed > 1 && samples[i] >= most);
        mean += samples[i] / count;
        more += (times[i] - 1) * samples[i] / count;
    }
    std::vector<std::uint32_t> goal = samples;
    const bool hardlyMore = more < 0.01 * mean;
    if (hardlyMore && isLimited)
        return goal;  // what is still noisy has as many as it may have
    // A plan that adds little is not worth its noise reduction: what still needs more gets more at once. And where noise sits in places
    // smaller than the mean shows, everything gets more.
    const double stretch = more > 0 ? std::clamp(mean * kLeastGrowth / more, 1.0, 8.0) : 1, least = hardlyMore ? kLeastGrowth : 0;
    for (std::size_t i = 0; i < goal.size(); ++i) {
        const double add = std::min(limitOf(i) - 1, std::max(least, (times[i] - 1) * stretch)) * samples[i];
        const double grown = std::max(samples[i] + std::ceil(add), std::min(mean * kLeastShare, 2.0 * samples[i]));
        goal[i] = static_cast<std::uint32_t>(std::clamp<double>(grown, samples[i], std::max(most, samples[i])));
    }
    return goal;
}

double estimateNoise(const Film& film, const Cleaned& cleaned, const Viewing& viewing)
{
    const bool isKnown = film.leastSamples() >= 2 && viewing.shown && cleaned.form != Mode::Fast;
    return isKnown ? noiseFrom(squaredErrors(cleaned, viewing)) : -1;
}

}  // namespace denoise
