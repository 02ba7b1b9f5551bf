#include "denoise/tile.h"

#include <cmath>
#include <cstring>

#include "denoise/rows.h"

namespace denoise {

namespace {

constexpr int kPitch = Tile::kPitch;
constexpr int kHalo = Tile::kHalo;
constexpr int kSide = Tile::kSide;
constexpr int kGuides = Tile::kGuides;

constexpr int kSearch = 5;  // of the average: 11 x 11 px
constexpr int kTaps = 2 * kSearch + 1;
constexpr int kWindow = RegressionWindow::kSide;  // of the regression, from kBefore pixels before its own
constexpr int kBefore = 7;
constexpr int kStepX = 4, kStepY = 2;  // px between regressions; every other row is shifted by half, so that they leave no grid
constexpr int kReach = 10;             // px round the core whose regressions reach it: half a window, and 2 for the mix
constexpr int kPilotReach = kReach + kWindow - kBefore - 1;  // px round the core that these regressions look at
constexpr int kMixRadius = 2;
constexpr int kNoiseRadius = 7;  // of the mean noise
constexpr int kStrip = 16;       // rows filtered at a time
constexpr int kOffsets = kWindow * kWindow;
static_assert(Tile::kCore % kStepX == 0 && Tile::kCore % (2 * kStepY) == 0);  // tiles have their regressions at the same pixels
static_assert(kPilotReach + kSearch + 1 + kNoiseRadius < kHalo);              // and see the same round them

constexpr float kAverageWidth = 1.04f;
constexpr rows::PilotWidths kPilotWidths{0.47f, 1e-5f, 1e-4f};
constexpr float kOwnShare = 0.15f;
// The noise that is told from two halves is itself noisy, and what is like by chance costs less than what is taken apart by chance: so
// many times its square counts. These and the other numbers were found on the scenes of bench/noise.cpp, at 24 and 64 samples.
constexpr float kHeedInside = 2, kHeedAtEdges = 1.2f, kHeedOfGuides = 10, kHeedOfPilot = 4;
constexpr float kRidge = 1e-3f;

// Guides that are compared together.
constexpr rows::GuideGroup kGroups[Tile::kGuideGroups] = {{0, 3, 0.003f},   {3, 6, 0.003f},    {6, 7, 0.0003f}, {7, 10, 0.003f},
                                                          {10, 13, 0.003f}, {13, 14, 0.0003f}, {14, 15, 0.001f}};
constexpr float kGuideWidth = 3;
constexpr float kOpenNoise = 0.4f,
                kGuideNoise =
                    0.15f;  // by this share of its noise a guide must vary to be regressed on: the share of open lights, the others
constexpr int kOpenGuide = 14;
constexpr float kMixFloor = 0.45f;                    // of the noise: where both filters err by less they count alike
constexpr int kHalf = 0, kSeen = 1, kFirstEntry = 4;  // channels

// Rows are filtered in whole vectors of pixels: what is left over one by one would take as long as the rest.
int padded(int count)
{
    return (count + rows::kLanes - 1) / rows::kLanes * rows::kLanes;
}

std::size_t indexOf(int x, int y)
{
    return static_cast<std::size_t>(y * kPitch + x);
}
float* at(std::vector<float>& plane, int x, int y)
{
    return plane.data() + indexOf(x, y);
}

// Mean over (2 radius + 1)^2 pixels, for all that have so many round them; the rest is copied.
void boxBlur(std::vector<float>& plane, int radius)
{
    std::vector<float> across = plane;
    const int inner = kSide - 2 * radius;
    const float scale = 1.0f / static_cast<float>((2 * radius + 1) * (2 * radius + 1));
    for (int y = 0; y < kSide; ++y)
        rows::boxSums(at(plane, radius, y), 1, radius, inner, at(across, radius, y));
    std::vector<float> sums(static_cast<std::size_t>(inner));
    for (int y = radius; y < kSide - radius; ++y) {
        rows::boxSums(at(across, radius, y), kPitch, radius, inner, sums.data());
        float* const to = at(plane, radius, y);
        std::fill(to, to + inner, 0.0f);
        rows::addScaled(scale, sums.data(), inner, to);
    }
}

void put(std::vector<float>* planes, std::size_t index, Rgb c)
{
    planes[0][index] = c.x;
    planes[1][index] = c.y;
    planes[2][index] = c.z;
}

// The guides of one half, as means.
void guidesOf(const PixelSums& sums, float scale, float reach, float (&guides)[kGuides])
{
    const float depth = sums.alpha > 0 ? sums.depth / sums.alpha : 0;
    const float values[kGuides] = {sums.albedo.x * scale,
                                   sums.albedo.y * scale,
                                   sums.albedo.z * scale,
                                   sums.normal.x * scale,
                                   sums.normal.y * scale,
                                   sums.normal.z * scale,
                                   depth / (depth + reach) * sums.alpha * scale,
                                   sums.mirrorAlbedo.x * scale,
                                   sums.mirrorAlbedo.y * scale,
                                   sums.mirrorAlbedo.z * scale,
                                   sums.mirrorNormal.x * scale,
                                   sums.mirrorNormal.y * scale,
                                   sums.mirrorNormal.z * scale,
                                   sums.mirrorDepth * scale,
                                   sums.open * scale};
    std::memcpy(guides, values, sizeof values);
}

}  // namespace

Tile::Tile(int entries)
    : m_entries(entries), m_groups((static_cast<std::size_t>(kFirstEntry + 3 * entries) + PixelLanes::kCount - 1) / PixelLanes::kCount)
{
    const std::size_t size = static_cast<std::size_t>(kSide) * kPitch + rows::kLanes;
    for (int c = 0; c < 3; ++c)
        for (Plane* plane : {&m_mean[c], &m_halfA[c], &m_halfB[c], &m_variance[c], &m_divisor[c], &m_pilot[c]})
            plane->assign(size, 0);
    m_edge.assign(size, 0);
    m_pilotVariance.assign(size, 0);
    for (int g = 0; g < kGuides; ++g) {
        m_guides[g].assign(size, 0);
        m_guideVariance[g].assign(size, 0);
    }
    for (int g = 0; g < kGuideGroups; ++g) {
        m_groupVariance[g].assign(size, 0);
        m_groupWidth[g].assign(size, 0);
    }
    for (LanesPlane* plane : {&m_regressors, &m_regressorNoise, &m_predictors})
        plane->assign(size, {});
    for (LanesPlane* plane : {&m_light, &m_average.light, &m_regression.light, &m_result})
        plane->assign(size * m_groups, {});
    for (Filtered* f : {&m_average, &m_regression}) {
        f->weight.assign(size, 0);
        f->mix.assign(size, 0);
    }
}

bool Tile::clean(const Film& film, const std::vector<Rgb>& weighing, const std::vector<Rgb>& desk, int x, int y,
                 const base::Progress& progress)
{
    load(film, weighing, desk, x, y);
    if (progress.stopRequested())
        return false;
    estimateVariance();
    if (!average(weighing, progress))
        return false;
    if (!regress(progress))
        return false;
    mix(weighing);
    return true;
}

void Tile::load(const Film& film, const std::vector<Rgb>& weighing, const std::vector<Rgb>& desk, int x0, int y0)
{
    const FilmShape& s = film.shape();
    m_x1 = kHalo + std::min(kCore, s.regionWidth - x0);
    m_y1 = kHalo + std::min(kCore, s.regionHeight - y0);
    m_seenX0 = std::max(0, kHalo - x0);
    m_seenY0 = std::max(0, kHalo - y0);
    m_seenX1 = std::min(kSide, kHalo + s.regionWidth - x0);
    m_seenY1 = std::min(kSide, kHalo + s.regionHeight - y0);
    const auto entries = static_cast<std::size_t>(m_entries);
    for (int ty = 0; ty < kSide; ++ty)
        for (int tx = 0; tx < kSide; ++tx) {
            const std::size_t i = static_cast<std::size_t>(ty * kPitch + tx);
            const int x = s.regionX + std::clamp(x0 + tx - kHalo, 0, s.regionWidth - 1),
                      y = s.regionY + std::clamp(y0 + ty - kHalo, 0, s.regionHeight - 1);
            const Film::Pixel p = film.at(x, y);
            const std::uint32_t n = p.samples;
            const PixelSums &a = *p.halves[0], &b = *p.halves[1];
            const float scaleA = 1.0f / static_cast<float>(Film::inHalf(n, 0)), scaleB = 1.0f / static_cast<float>(Film::inHalf(n, 1));
            const float scale = 1.0f / static_cast<float>(n);

            m_edge[i] = p.edge->rays > 0 ? 1 : 0;
            float ga[kGuides], gb[kGuides];
            guidesOf(a, scaleA, s.reach, ga);
            guidesOf(b, scaleB, s.reach, gb);
            m_regressors[i].v[0] = 1;
            for (std::size_t g = 0; g < kGuides; ++g) {
                m_guides[g][i] = m_regressors[i].v[g + 1] = (ga[g] + gb[g]) / 2;
                m_guideVariance[g][i] = kHeedOfGuides * (ga[g] - gb[g]) * (ga[g] - gb[g]) / 4;
            }

            const float alpha = (a.alpha + b.alpha) * scale;
            const Rgb albedo = (a.mirrorAlbedo + b.mirrorAlbedo) * scale;
            const auto divisor = [&](float v) { return std::max(v, 0.01f * alpha) + 0.03f * alpha + 1e-6f; };
            const Rgb over{1 / divisor(albedo.x), 1 / divisor(albedo.y), 1 / divisor(albedo.z)};
            putSharp(i, a, b, *p.edge, n, s.reach, {1 / over.x, 1 / over.y, 1 / over.z});

            float* const light = m_light[i * m_groups].v;
            const auto putLight = [&](std::size_t channel, Rgb of) {
                light[channel] = of.x;
                light[channel + 1] = of.y;
                light[channel + 2] = of.z;
            };
            const Rgb *ca = p.colours[0], *cb = p.colours[1];
            const float* squares = p.squares;
            Rgb mixA, mixB, seenA, variance;
            for (std::size_t e = 0; e < entries; ++e) {
                const Rgb mean = (ca[e] + cb[e]) * scale;
                mixA += ca[e] * weighing[e] * scaleA;
                mixB += cb[e] * weighing[e] * scaleB;
                seenA += ca[e] * desk[e] * scaleA;
                const float l = luminance(mean);
                const float v = std::max(0.0f, squares[e] * scale - l * l) / static_cast<float>(n > 1 ? n - 1 : 1);
                const Rgb share = weighing[e] * (l > 0 ? mean / l : Rgb{1, 1, 1});
                variance += share * share * v;
                putLight(kFirstEntry + 3 * e, mean * over);
            }
            put(m_halfA, i, mixA * over);
            put(m_halfB, i, mixB * over);
            put(m_mean, i, (mixA + mixB) * over * 0.5f);
            put(m_variance, i, variance * over * over);
            light[kHalf] = luminance(mixA * over);
            putLight(kSeen, seenA * over);
        }
    for (Filtered* f : {&m_average, &m_regression}) {
        std::fill(f->light.begin(), f->light.end(), PixelLanes{});
        std::fill(f->weight.begin(), f->weight.end(), 0.0f);
    }
    std::fill(m_pilotVariance.begin(), m_pilotVariance.end(), 0.0f);
}

// Guides and divisor of the result. At edges they are averages of more first hits than there are samples.
void Tile::putSharp(std::size_t i, const PixelSums& a, const PixelSums& b, const EdgeSums& edge, std::uint32_t samples, float reach,
                    Rgb divisor)
{
    m_predictors[i] = m_regressors[i];
    if (edge.rays == 0) {
        put(m_divisor, i, divisor);
        return;
    }
    PixelSums all;
    all.alpha = a.alpha + b.alpha + edge.alpha;
    all.albedo = a.albedo + b.albedo + edge.albedo;
    all.normal = a.normal + b.normal + edge.normal;
    all.depth = a.depth + b.depth + edge.depth;
    const float scale = 1 / (static_cast<float>(samples) + edge.rays), before = 1 / static_cast<float>(samples);
    float guides[kGuides];
    guidesOf(all, scale, reach, guides);
    for (std::size_t g = 0; g < kSharpGuides; ++g)
        m_predictors[i].v[g + 1] = guides[g];
    const Rgb albedo = (a.albedo + b.albedo) * before;
    const float alpha = (a.alpha + b.alpha) * before;
    const auto better = [&](float of, float sharp, float known) {
        const float was = known + 0.03f * alpha;
        return was > 0 ? of * std::clamp((sharp * scale + 0.03f * all.alpha * scale) / was, 0.1f, 10.0f) : of;
    };
    put(m_divisor, i,
        {better(divisor.x, all.albedo.x, albedo.x), better(divisor.y, all.albedo.y, albedo.y), better(divisor.z, all.albedo.z, albedo.z)});
}

void Tile::estimateVariance()
{
    const auto among = [](const Plane& values, const Plane& mask, int radius) {
        Plane sum = values, count = mask;
        for (std::size_t i = 0; i < sum.size(); ++i)
            sum[i] *= mask[i];
        boxBlur(sum, radius);
        boxBlur(count, radius);
        for (std::size_t i = 0; i < sum.size(); ++i)
            sum[i] = count[i] > 0 ? sum[i] / count[i] : 0;
        return sum;
    };
    Plane inside = m_edge;
    for (float& v : inside)
        v = 1 - v;
    for (std::size_t c = 0; c < 3; ++c) {
        Plane measured = m_variance[c];
        for (std::size_t i = 0; i < measured.size(); ++i)
            measured[i] = (m_halfA[c][i] - m_halfB[c][i]) * (m_halfA[c][i] - m_halfB[c][i]) / 4;
        // The samples' own variance takes them for independent; the halves know better, over a wide window. At an edge the samples vary
        // with what they hit, which dividing by albedo takes out: there the halves alone tell.
        const Plane wideMeasured = among(measured, inside, kNoiseRadius), wide = among(m_variance[c], inside, kNoiseRadius),
                    atEdges = among(measured, m_edge, 3);
        for (std::size_t i = 0; i < measured.size(); ++i)
            m_variance[c][i] *= wide[i] > 0 ? std::clamp(wideMeasured[i] / wide[i], 0.05f, 1.5f) : 1;
        const Plane near = among(m_variance[c], inside, 1);
        for (std::size_t i = 0; i < near.size(); ++i)
            m_variance[c][i] = m_edge[i] > 0 ? kHeedAtEdges * atEdges[i] : kHeedInside * near[i];
    }
    for (std::size_t g = 0; g < kGuides; ++g) {
        boxBlur(m_guideVariance[g], 1);
        for (std::size_t i = 0; i < m_regressorNoise.size(); ++i)
            m_regressorNoise[i].v[g + 1] = m_guideVariance[g][i];
    }
    for (std::size_t group = 0; group < kGuideGroups; ++group) {
        Plane &variance = m_groupVariance[group], &width = m_groupWidth[group];
        std::fill(variance.begin(), variance.end(), 0.0f);
        for (int g = kGroups[group].from; g < kGroups[group].to; ++g)
            for (std::size_t i = 0; i < variance.size(); ++i)
                variance[i] += m_guideVariance[g][i];
        for (std::size_t i = 0; i < width.size(); ++i)
            width[i] = 1 / (kGuideWidth * std::max(kGroups[group].like, variance[i]));
    }
}

// The average, as far as regressions look.
bool Tile::average(const std::vector<Rgb>& weighing, const base::Progress& progress)
{
    const int x0 = kHalo - kPilotReach, x1 = m_x1 + kPilotReach, y1 = m_y1 + kPilotReach, width = padded(x1 - x0),
              deltaWidth = padded(width + 2);
    std::vector<float> deltas(static_cast<std::size_t>((kStrip + 2) * deltaWidth)), distances(static_cast<std::size_t>(width));
    std::vector<float> weights(static_cast<std::size_t>(kStrip * kTaps * width));  // for one dy
    const auto deltaRow = [&](int r) { return deltas.data() + static_cast<std::ptrdiff_t>(r) * deltaWidth; };
    for (int y0 = kHalo - kPilotReach; y0 < y1; y0 += kStrip) {
        const int count = std::min(kStrip, y1 - y0);
        for (int dy = -kSearch; dy <= kSearch; ++dy) {
            if (progress.stopRequested())
                return false;
            for (int dx = -kSearch; dx <= kSearch; ++dx) {
                const int offset = dy * kPitch + dx;
                for (int r = 0; r < count + 2; ++r) {
                    const float *mean[3], *variance[3];
                    for (int c = 0; c < 3; ++c) {
                        mean[c] = at(m_mean[c], x0 - 1, y0 - 1 + r);
                        variance[c] = at(m_variance[c], x0 - 1, y0 - 1 + r);
                    }
                    rows::differences(mean, variance, offset, deltaWidth, deltaRow(r));
                }
                for (int r = 0; r < count; ++r) {
                    const float* three[3] = {deltaRow(r), deltaRow(r + 1), deltaRow(r + 2)};
                    rows::patchMeans(three, width, distances.data());
                    const float *guides[kGuides], *variances[kGuideGroups], *widths[kGuideGroups];
                    for (int g = 0; g < kGuides; ++g)
                        guides[g] = at(m_guides[g], x0, y0 + r);
                    for (int g = 0; g < kGuideGroups; ++g) {
                        variances[g] = at(m_groupVariance[g], x0, y0 + r);
                        widths[g] = at(m_groupWidth[g], x0, y0 + r);
                    }
                    float* const row = weights.data() + static_cast<std::ptrdiff_t>((r * kTaps + dx + kSearch) * width);
                    rows::likeness(distances.data(), kAverageWidth, kGroups, guides, variances, widths, offset, width, row);
                    // What lies beyond the picture counts nothing.
                    std::fill(row, row + std::clamp(m_seenX0 - dx - x0, 0, width), 0.0f);
                    std::fill(row + std::clamp(m_seenX1 - dx - x0, 0, width), row + width, 0.0f);
                }
            }
            for (int y = std::max(y0, m_seenY0 - dy); y < std::min(y0 + count, m_seenY1 - dy); ++y)
                rows::addNeighbours(weights.data() + static_cast<std::ptrdiff_t>((y - y0) * kTaps) * width, width, kTaps,
                                    &m_light[indexOf(x0 - kSearch, y + dy) * m_groups], static_cast<int>(m_groups), x1 - x0,
                                    &m_average.light[indexOf(x0, y) * m_groups], at(m_average.weight, x0, y));
        }
        for (int y = y0; y < y0 + count; ++y)
            for (int x = x0; x < x1; ++x)
                findPilot(indexOf(x, y), weighing);
    }
    boxBlur(m_pilotVariance, 1);
    return true;
}

// The average of a pixel as a mean, and as what regressions are weighed by.
void Tile::findPilot(std::size_t i, const std::vector<Rgb>& weighing)
{
    scale(m_average, i, m_average.weight[i] > 0 ? 1 / m_average.weight[i] : 0);
    const Rgb seen = mixed(m_average, i, weighing);
    put(m_pilot, i, seen);
    const float half = channels(m_average.light, i)[kHalf] - m_average.mix[i];
    m_pilotVariance[i] = kHeedOfPilot * half * half;
}

bool Tile::regress(const base::Progress& progress)
{
    for (int y = kHalo - kReach; y < m_y1 + kReach; y += kStepY) {
        if (progress.stopRequested())
            return false;
        const int shift = (y - kHalo + kReach) / kStepY % 2 * kStepX / 2;
        for (int x = kHalo - kReach + shift; x < m_x1 + kReach; x += kStepX)
            regress(x, y);
    }
    return true;
}

void Tile::regress(int px, int py)
{
    const int x0 = px - kBefore, y0 = py - kBefore;
    alignas(64) float weights[kOffsets];
    const float* pilot[3];
    for (int c = 0; c < 3; ++c)
        pilot[c] = at(m_pilot[c], x0, y0);
    rows::pilotLikeness(pilot, at(m_pilotVariance, x0, y0), kPitch, kWindow, kBefore, kPilotWidths, weights);
    if (x0 < m_seenX0 || y0 < m_seenY0 || x0 + kWindow > m_seenX1 || y0 + kWindow > m_seenY1)
        for (int i = 0; i < kOffsets; ++i)
            if (const int x = x0 + i % kWindow, y = y0 + i / kWindow; x < m_seenX0 || x >= m_seenX1 || y < m_seenY0 || y >= m_seenY1)
                weights[i] = 0;
    float weightSum = 0;
    for (const float w : weights)
        weightSum += w;
    if (!(weightSum > 0))
        return;
    const std::size_t first = indexOf(x0, y0);
    RegressionWindow window{&m_regressors[first],
                            &m_regressorNoise[first],
                            &m_predictors[first],
                            &m_regressors[indexOf(px, py)],
                            kPitch,
                            weights,
                            weightSum,
                            {},
                            {},
                            kRidge,
                            &m_light[first * m_groups],
                            &m_regression.light[first * m_groups],
                            &m_regression.weight[first],
                            static_cast<int>(m_groups)};
    std::fill(std::begin(window.leastVariance), std::end(window.leastVariance), 1e-6f);
    std::fill(std::begin(window.noiseFactor), std::end(window.noiseFactor), kGuideNoise);
    window.noiseFactor[kOpenGuide + 1] = kOpenNoise;
    window.regress();
}

void Tile::scale(Filtered& filtered, std::size_t i, float factor) const
{
    for (std::size_t group = i * m_groups; group < (i + 1) * m_groups; ++group)
        for (float& v : filtered.light[group].v)
            v *= factor;
}

// What the entries of a filtered pixel mix to; its luminance is kept.
Rgb Tile::mixed(Filtered& filtered, std::size_t i, const std::vector<Rgb>& weighing) const
{
    const float* of = channels(filtered.light, i) + kFirstEntry;
    Rgb sum;
    for (const Rgb& weight : weighing) {
        sum += Rgb{of[0], of[1], of[2]} * weight;
        of += 3;
    }
    filtered.mix[i] = luminance(sum);
    return sum;
}

void Tile::mix(const std::vector<Rgb>& weighing)
{
    const std::size_t lanes = m_groups * PixelLanes::kCount;
    // The regression as means, with a little of the pixel's own.
    const int xa = kHalo - kMixRadius, xb = m_x1 + kMixRadius, ya = kHalo - kMixRadius, yb = m_y1 + kMixRadius;
    for (int y = ya; y < yb; ++y)
        for (int x = xa; x < xb; ++x) {
            const std::size_t i = indexOf(x, y);
            float* of = m_regression.light[i * m_groups].v;
            const float* own = channels(m_light, i);
            for (std::size_t c = 0; c < lanes; ++c)
                of[c] += kOwnShare * own[c];
            scale(m_regression, i, 1 / (m_regression.weight[i] + kOwnShare));
            mixed(m_regression, i, weighing);
        }
    // Estimated squared errors: each half against the other one as gathered, and the halves against each other.
    Plane errors[2] = {Plane(m_average.weight.size()), Plane(m_average.weight.size())}, noise(m_average.weight.size());
    for (int y = ya; y < yb; ++y)
        for (int x = xa; x < xb; ++x) {
            const std::size_t i = indexOf(x, y);
            // Of luminance: channels are noisy together.
            const float deviation = luminance(Rgb{std::sqrt(m_variance[0][i]), std::sqrt(m_variance[1][i]), std::sqrt(m_variance[2][i])}),
                        v = deviation * deviation;
            const float gatheredA = luminance(Rgb{m_halfA[0][i], m_halfA[1][i], m_halfA[2][i]}),
                        gatheredB = luminance(Rgb{m_halfB[0][i], m_halfB[1][i], m_halfB[2][i]});
            noise[i] = v;
            int which = 0;
            for (const Filtered* f : {&m_average, &m_regression}) {
                const float a = channels(f->light, i)[kHalf], b = 2 * f->mix[i] - a, ab = a - gatheredB, ba = b - gatheredA;
                errors[which++][i] = (ab * ab + ba * ba) / 2 + (a - b) * (a - b) - 2 * v;
            }
        }
    for (Plane* plane : {&errors[0], &errors[1], &noise})
        boxBlur(*plane, kMixRadius);
    for (int y = kHalo; y < m_y1; ++y)
        for (int x = kHalo; x < m_x1; ++x) {
            const std::size_t i = indexOf(x, y);
            const float floor = kMixFloor * noise[i] + 1e-6f;
            const float own[2] = {std::max(0.0f, errors[0][i]) + floor, std::max(0.0f, errors[1][i]) + floor};
            float share = own[0] * own[0] / (own[0] * own[0] + own[1] * own[1]);  // of the regression
            const float a = m_average.mix[i], r = m_regression.mix[i];
            if (!(r >= 0.4f * a && r <= 2.5f * a))
                share = 0;
            const float *ofAverage = channels(m_average.light, i), *ofRegression = channels(m_regression.light, i);
            float* const to = m_result[i * m_groups].v;
            for (std::size_t c = 0; c < lanes; ++c)
                to[c] = share > 0 ? ofAverage[c] + (ofRegression[c] - ofAverage[c]) * share : ofAverage[c];
        }
}

namespace {

Rgb times(const float* light, const std::vector<float>* divisor, std::size_t i)
{
    return {light[0] * divisor[0][i], light[1] * divisor[1][i], light[2] * divisor[2][i]};
}

}  // namespace

Rgb Tile::share(int entry, int x, int y) const
{
    const std::size_t i = indexOf(x + kHalo, y + kHalo);
    return times(channels(m_result, i) + kFirstEntry + 3 * entry, m_divisor, i);
}

Rgb Tile::halfA(int x, int y) const
{
    const std::size_t i = indexOf(x + kHalo, y + kHalo);
    return times(channels(m_result, i) + kSeen, m_divisor, i);
}

Rgb Tile::takenAway(int entry, int x, int y) const
{
    const std::size_t i = indexOf(x + kHalo, y + kHalo);
    return times(channels(m_light, i) + kFirstEntry + 3 * entry, m_divisor, i) - share(entry, x, y);
}

}  // namespace denoise
