#include "render/denoise_tile.h"

#include <bit>
#include <cmath>
#include <cstring>

namespace render {

namespace {

constexpr int kPitch = DenoiseTile::kPitch;
constexpr int kHalo = DenoiseTile::kHalo;
constexpr int kSide = DenoiseTile::kSide;
constexpr int kGuides = DenoiseTile::kGuides;

constexpr int kSearch = 5;                  // of the average: 11 x 11 px
constexpr int kWindow = 16;              // of the regression, from kBefore pixels before its block's first
constexpr int kBefore = 7;
constexpr int kReach = 10;               // px round the core whose regressions reach it: half a window, and 2 for the mix
constexpr int kMixRadius = 2;
constexpr int kStrip = 16;               // rows filtered at a time
constexpr int kOffsets = kWindow * kWindow;

constexpr float kAverageWidth = 1 / (0.85f * 0.85f);
constexpr float kRegressionWidth = 1 / (0.8f * 0.8f);
constexpr float kLeastWeight = 1e-4f;
constexpr float kOwnShare = 0.3f;
constexpr float kRidge = 1e-3f;

// Guides that are compared together: from, to, and the difference that always counts as like, squared.
struct GuideGroup {
    int from, to;
    float like;
};
constexpr GuideGroup kGroups[] = {{0, 3, 0.003f}, {3, 6, 0.003f}, {6, 7, 0.0003f}, {7, 10, 0.003f}, {10, 13, 0.003f}, {13, 14, 0.0003f}, {14, 15, 0.001f}};
constexpr float kGuideWidth = 3;
constexpr float kOpenNoise = 2;           // how far the share of open lights must vary beyond its noise to be regressed on
constexpr int kOpenGuide = 14;
constexpr std::size_t kFirstEntry = 6;   // channel

// The filters' inner loops are built for several instruction sets; the best is taken when the program starts.
using Row = float __attribute__((vector_size(64)));  // sixteen pixels
static_assert(sizeof(Row) == kWindow * sizeof(float));

[[gnu::always_inline]] inline Row load(const float* p)
{
    Row row;
    std::memcpy(&row, p, sizeof row);
    return row;
}
[[gnu::always_inline]] inline void store(float* p, const Row& row)
{
    std::memcpy(p, &row, sizeof row);
}
[[gnu::always_inline]] inline float sumOf(const Row& row)
{
    float lanes[kWindow];
    std::memcpy(lanes, &row, sizeof lanes);
    float a = 0, b = 0, c = 0, d = 0;
    for (int i = 0; i < kWindow; i += 4) {
        a += lanes[i];
        b += lanes[i + 1];
        c += lanes[i + 2];
        d += lanes[i + 3];
    }
    return (a + b) + (c + d);
}

// e^-x for x >= 0, to 2e-5.
[[gnu::always_inline]] inline float expOfMinus(float x)
{
    const float t = 127 - std::min(x * 1.44269504f, 126.0f);
    const int whole = static_cast<int>(t);
    const float f = t - static_cast<float>(whole);
    const float power = 1 + f * (0.69314718f + f * (0.24022651f + f * (0.05203572f + f * 0.01353996f)));
    return power * std::bit_cast<float>(whole << 23);
}

// Rows are filtered in whole vectors of pixels: what is left over one by one would take as long as the rest.
int padded(int count)
{
    return (count + kWindow - 1) / kWindow * kWindow;
}

float* at(std::vector<float>& plane, int x, int y)
{
    return plane.data() + y * kPitch + x;
}
const float* at(const std::vector<float>& plane, int x, int y)
{
    return plane.data() + y * kPitch + x;
}

// Differences of two pixels beyond their noise, over their noise, summed over the channels.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void differences(const float* const* mean, const float* const* variance, int offset, int count, float* __restrict out)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        out[i] = 0;
    for (int c = 0; c < 3; ++c) {
        const float *gp = mean[c], *gq = mean[c] + offset, *vp = variance[c], *vq = variance[c] + offset;
#pragma GCC ivdep
        for (int i = 0; i < count; ++i) {
            const float d = gp[i] - gq[i];
            // A difference under a third of a percent cannot be seen and counts as none.
            const float unseen = 1e-6f + 1e-5f * (gp[i] * gp[i] + gq[i] * gq[i]);
            out[i] += (d * d - (vp[i] + std::min(vp[i], vq[i]))) / (vp[i] + vq[i] + unseen);
        }
    }
}

// Mean of 3 x 3 differences and three channels, at least 0. `rows`: three rows of differences, from one pixel before.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void patchMeans(const float* const* rows, int count, float* __restrict out)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i) {
        float sum = 0;
        for (int r = 0; r < 3; ++r)
            sum += rows[r][i] + rows[r][i + 1] + rows[r][i + 2];
        out[i] = std::max(0.0f, sum * (1.0f / 27));
    }
}

// Weights of one row of the average, from patch distances and guides.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void averageWeights(const float* distances, const float* const* guides, const float* const* variances, int offset, int count, float* __restrict out)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        out[i] = distances[i] * kAverageWidth;
    for (const GuideGroup& group : kGroups)
        if (group.to - group.from == 3) {
            const float *f0 = guides[group.from], *f1 = guides[group.from + 1], *f2 = guides[group.from + 2];
            const float *v0 = variances[group.from], *v1 = variances[group.from + 1], *v2 = variances[group.from + 2];
#pragma GCC ivdep
            for (int i = 0; i < count; ++i) {
                const int q = i + offset;
                const float a = f0[i] - f0[q], b = f1[i] - f1[q], c = f2[i] - f2[q];
                const float vp = v0[i] + v1[i] + v2[i], vq = v0[q] + v1[q] + v2[q];
                out[i] = std::max(out[i], (a * a + b * b + c * c - (vp + std::min(vp, vq))) / (kGuideWidth * std::max(group.like, vp)));
            }
        } else {
            const float *f = guides[group.from], *v = variances[group.from];
#pragma GCC ivdep
            for (int i = 0; i < count; ++i) {
                const int q = i + offset;
                const float a = f[i] - f[q];
                out[i] = std::max(out[i], (a * a - (v[i] + std::min(v[i], v[q]))) / (kGuideWidth * std::max(group.like, v[i])));
            }
        }
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        out[i] = expOfMinus(out[i]);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void regressionWeights(const float* distances, float* __restrict out)
{
#pragma GCC ivdep
    for (int i = 0; i < kOffsets; ++i)
        out[i] = std::max(kLeastWeight, expOfMinus(distances[i] * kRegressionWidth));
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void addWeighted(const float* weights, const float* values, int count, float* __restrict to)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        to[i] += weights[i] * values[i];
}

struct Moments {
    float mean, variance, noise;
};

// Weighted moments of a guide over a window; `rows` step kPitch.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
Moments momentsOf(const float* weights, float weightSum, const float* guide, const float* noise, float centre)
{
    Row sum{}, squares{}, noises{};
    for (int r = 0; r < kWindow; ++r) {
        const Row w = load(weights + r * kWindow), d = load(guide + r * kPitch) - centre;
        sum += w * d;
        squares += w * d * d;
        noises += w * load(noise + r * kPitch);
    }
    const float mean = sumOf(sum) / weightSum;
    return {centre + mean, sumOf(squares) / weightSum - mean * mean, sumOf(noises) / weightSum};
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void scaled(const float* guide, float mean, float scale, float* out)
{
    for (int r = 0; r < kWindow; ++r)
        store(out + r * kWindow, (load(guide + r * kPitch) - mean) * scale);
}

// out[i] = sum of weights x[i], for `count` windows with the given row steps.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void weightedDots(const float* weights, const float* regressor, const float* const* windows, int pitch, int count, float* out)
{
    Row weighted[kWindow];
    for (int r = 0; r < kWindow; ++r)
        weighted[r] = load(weights + r * kWindow) * load(regressor + r * kWindow);
    int i = 0;
    for (; i + 4 <= count; i += 4) {
        Row a{}, b{}, c{}, d{};
        for (int r = 0; r < kWindow; ++r) {
            a += weighted[r] * load(windows[i] + r * pitch);
            b += weighted[r] * load(windows[i + 1] + r * pitch);
            c += weighted[r] * load(windows[i + 2] + r * pitch);
            d += weighted[r] * load(windows[i + 3] + r * pitch);
        }
        out[i] = sumOf(a);
        out[i + 1] = sumOf(b);
        out[i + 2] = sumOf(c);
        out[i + 3] = sumOf(d);
    }
    for (; i < count; ++i) {
        Row a{};
        for (int r = 0; r < kWindow; ++r)
            a += weighted[r] * load(windows[i] + r * pitch);
        out[i] = sumOf(a);
    }
}

// Adds weights times the prediction sum of factors[k] x[k] to a window of a plane.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]
void addPrediction(const float* weights, const float* const* regressors, const float* factors, int count, float* to)
{
    for (int r = 0; r < kWindow; ++r) {
        Row prediction{};
        for (int k = 0; k < count; ++k)
            prediction += load(regressors[k] + r * kWindow) * factors[k];
        store(to + r * kPitch, load(to + r * kPitch) + load(weights + r * kWindow) * prediction);
    }
}

// In place: a, lower triangle, becomes its Cholesky factor. False when it is not positive.
bool factorise(float (&a)[16][16], int n)
{
    for (int i = 0; i < n; ++i)
        for (int j = 0; j <= i; ++j) {
            float sum = a[i][j];
            for (int k = 0; k < j; ++k)
                sum -= a[i][k] * a[j][k];
            if (i != j) {
                a[i][j] = sum / a[j][j];
            } else {
                if (!(sum > 0))
                    return false;
                a[i][i] = std::sqrt(sum);
            }
        }
    return true;
}

void solve(const float (&a)[16][16], int n, float* x)
{
    for (int i = 0; i < n; ++i) {
        for (int k = 0; k < i; ++k)
            x[i] -= a[i][k] * x[k];
        x[i] /= a[i][i];
    }
    for (int i = n - 1; i >= 0; --i) {
        for (int k = i + 1; k < n; ++k)
            x[i] -= a[k][i] * x[k];
        x[i] /= a[i][i];
    }
}

// Mean over (2 radius + 1)^2 pixels, for all that have so many round them; the rest is copied.
void boxBlur(std::vector<float>& plane, int radius)
{
    std::vector<float> rows(plane.size());
    const float scale = 1.0f / static_cast<float>(2 * radius + 1);
    for (int y = 0; y < kSide; ++y) {
        const float* in = at(plane, 0, y);
        float* out = at(rows, 0, y);
        std::memcpy(out, in, kSide * sizeof(float));
        double sum = 0;
        for (int x = 0; x < kSide; ++x) {
            sum += in[x];
            if (x >= 2 * radius) {
                out[x - radius] = static_cast<float>(sum) * scale;
                sum -= in[x - 2 * radius];
            }
        }
    }
    plane = rows;
    std::vector<double> sums(static_cast<std::size_t>(kSide));
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            double& sum = sums[static_cast<std::size_t>(x)];
            sum += *at(rows, x, y);
            if (y >= 2 * radius) {
                *at(plane, x, y - radius) = static_cast<float>(sum) * scale;
                sum -= *at(rows, x, y - 2 * radius);
            }
        }
}

float channel(Rgb c, int i)
{
    return c[i];
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
    const float values[kGuides] = {sums.albedo.x * scale, sums.albedo.y * scale, sums.albedo.z * scale,
                                   sums.normal.x * scale, sums.normal.y * scale, sums.normal.z * scale,
                                   depth / (depth + reach) * sums.alpha * scale,
                                   sums.mirrorAlbedo.x * scale, sums.mirrorAlbedo.y * scale, sums.mirrorAlbedo.z * scale,
                                   sums.mirrorNormal.x * scale, sums.mirrorNormal.y * scale, sums.mirrorNormal.z * scale,
                                   sums.mirrorDepth * scale, sums.open * scale};
    std::memcpy(guides, values, sizeof values);
}

}  // namespace

DenoiseTile::DenoiseTile(int entries) : m_entries(entries)
{
    const std::size_t size = static_cast<std::size_t>(kSide) * kPitch + kWindow;
    for (int c = 0; c < 3; ++c)
        for (Plane* plane : {&m_mean[c], &m_halfA[c], &m_halfB[c], &m_variance[c], &m_divisor[c]})
            plane->assign(size, 0);
    m_edge.assign(size, 0);
    for (Plane& plane : m_sharpGuides)
        plane.assign(size, 0);
    for (int g = 0; g < kGuides; ++g) {
        m_guides[g].assign(size, 0);
        m_guideVariance[g].assign(size, 0);
    }
    m_values.assign(kFirstEntry + 3 * static_cast<std::size_t>(entries), Plane(size));
    for (Filtered* f : {&m_average, &m_regression, &m_result}) {
        f->sums = m_values;
        f->weight.assign(size, 0);
    }
}

bool DenoiseTile::clean(const Film& film, const std::vector<Rgb>& weighing, const std::vector<Rgb>& desk, int x, int y, const base::Progress& progress)
{
    load(film, weighing, desk, x, y);
    if (progress.stopRequested())
        return false;
    estimateVariance();
    if (!filter(progress))
        return false;
    mix(weighing);
    return true;
}

void DenoiseTile::load(const Film& film, const std::vector<Rgb>& weighing, const std::vector<Rgb>& desk, int x0, int y0)
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
            const int x = s.regionX + std::clamp(x0 + tx - kHalo, 0, s.regionWidth - 1), y = s.regionY + std::clamp(y0 + ty - kHalo, 0, s.regionHeight - 1);
            const std::uint32_t n = film.samplesAt(x, y);
            const PixelSums &a = film.sums(x, y, 0), &b = film.sums(x, y, 1);
            const float scaleA = 1.0f / static_cast<float>(Film::inHalf(n, 0)), scaleB = 1.0f / static_cast<float>(Film::inHalf(n, 1));
            const float scale = 1.0f / static_cast<float>(n);

            m_edge[i] = film.id(x, y).edge ? 1 : 0;
            float ga[kGuides], gb[kGuides];
            guidesOf(a, scaleA, s.reach, ga);
            guidesOf(b, scaleB, s.reach, gb);
            for (std::size_t g = 0; g < kGuides; ++g) {
                m_guides[g][i] = (ga[g] + gb[g]) / 2;
                m_guideVariance[g][i] = (ga[g] - gb[g]) * (ga[g] - gb[g]) / 4;
            }

            const float alpha = (a.alpha + b.alpha) * scale;
            const Rgb albedo = (a.mirrorAlbedo + b.mirrorAlbedo) * scale;
            const auto divisor = [&](float v) { return std::max(v, 0.01f * alpha) + 0.03f * alpha + 1e-6f; };
            const Rgb over{1 / divisor(albedo.x), 1 / divisor(albedo.y), 1 / divisor(albedo.z)};
            putSharp(i, a, b, film.edge(x, y), n, s.reach, {1 / over.x, 1 / over.y, 1 / over.z});

            const Rgb *ca = film.colours(x, y, 0), *cb = film.colours(x, y, 1);
            const float* squares = film.squares(x, y);
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
                put(&m_values[kFirstEntry + 3 * e], i, mean * over);
            }
            put(m_halfA, i, mixA * over);
            put(m_halfB, i, mixB * over);
            put(m_mean, i, (mixA + mixB) * over * 0.5f);
            put(m_variance, i, variance * over * over);
            put(&m_values[0], i, mixA * over);
            put(&m_values[3], i, seenA * over);
        }
    for (Filtered* f : {&m_average, &m_regression}) {
        for (Plane& plane : f->sums)
            std::fill(plane.begin(), plane.end(), 0.0f);
        std::fill(f->weight.begin(), f->weight.end(), 0.0f);
    }
}

// Guides and divisor of the result. At edges they are averages of more first hits than there are samples.
void DenoiseTile::putSharp(std::size_t i, const PixelSums& a, const PixelSums& b, const EdgeSums& edge, std::uint32_t samples, float reach, Rgb divisor)
{
    if (edge.rays == 0) {
        for (std::size_t g = 0; g < kSharpGuides; ++g)
            m_sharpGuides[g][i] = m_guides[g][i];
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
        m_sharpGuides[g][i] = guides[g];
    const Rgb albedo = (a.albedo + b.albedo) * before;
    const float alpha = (a.alpha + b.alpha) * before;
    const auto better = [&](float of, float sharp, float known) {
        const float was = known + 0.03f * alpha;
        return was > 0 ? of * std::clamp((sharp * scale + 0.03f * all.alpha * scale) / was, 0.1f, 10.0f) : of;
    };
    put(m_divisor, i, {better(divisor.x, all.albedo.x, albedo.x), better(divisor.y, all.albedo.y, albedo.y), better(divisor.z, all.albedo.z, albedo.z)});
}

void DenoiseTile::estimateVariance()
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
        const Plane wideMeasured = among(measured, inside, 7), wide = among(m_variance[c], inside, 7), atEdges = among(measured, m_edge, 3);
        for (std::size_t i = 0; i < measured.size(); ++i)
            m_variance[c][i] *= wide[i] > 0 ? std::clamp(wideMeasured[i] / wide[i], 0.05f, 1.5f) : 1;
        const Plane near = among(m_variance[c], inside, 1);
        for (std::size_t i = 0; i < near.size(); ++i)
            m_variance[c][i] = m_edge[i] > 0 ? atEdges[i] : near[i];
    }
    for (Plane& variance : m_guideVariance)
        boxBlur(variance, 1);
}

bool DenoiseTile::filter(const base::Progress& progress)
{
    const int x0 = kHalo - kReach, width = padded(m_x1 + kReach - x0), deltaWidth = padded(width + 2), blocksX = (m_x1 + kReach - x0 + 1) / 2;
    std::vector<float> deltas(static_cast<std::size_t>((kStrip + 2) * deltaWidth)), distances(static_cast<std::size_t>(kStrip * width + kWindow));
    std::vector<float> ofBlocks(static_cast<std::size_t>(kStrip / 2 * blocksX * kOffsets));
    const auto row = [&](std::vector<float>& of, int r, int w) { return of.data() + static_cast<std::ptrdiff_t>(r) * w; };
    for (int y0 = kHalo - kReach; y0 < m_y1 + kReach; y0 += kStrip) {
        if (progress.stopRequested())
            return false;
        const int rows = std::min(kStrip, m_y1 + kReach - y0);
        for (int offset = 0; offset < kOffsets; ++offset) {
            const int dx = offset % kWindow - kBefore, dy = offset / kWindow - kBefore;
            for (int r = 0; r < rows + 2; ++r) {
                const float *mean[3], *variance[3];
                for (int c = 0; c < 3; ++c) {
                    mean[c] = at(m_mean[c], x0 - 1, y0 - 1 + r);
                    variance[c] = at(m_variance[c], x0 - 1, y0 - 1 + r);
                }
                differences(mean, variance, dy * kPitch + dx, deltaWidth, row(deltas, r, deltaWidth));
            }
            for (int r = 0; r < rows; ++r) {
                const float* three[3] = {row(deltas, r, deltaWidth), row(deltas, r + 1, deltaWidth), row(deltas, r + 2, deltaWidth)};
                float* const out = row(distances, r, width);
                patchMeans(three, width, out);
                if (r % 2 == 0)
                    for (int b = 0; b < blocksX; ++b)
                        ofBlocks[static_cast<std::size_t>((r / 2 * blocksX + b) * kOffsets + offset)] = out[2 * b];
            }
            if (std::abs(dx) <= kSearch && std::abs(dy) <= kSearch)
                averageStrip(y0, y0 + rows, dx, dy, distances.data());
        }
        for (int r = 0; r < rows; r += 2)
            for (int b = 0; b < blocksX; ++b)
                regressBlock(x0 + 2 * b, y0 + r, ofBlocks.data() + static_cast<std::ptrdiff_t>(r / 2 * blocksX + b) * kOffsets);
    }
    return true;
}

void DenoiseTile::averageStrip(int y0, int y1, int dx, int dy, const float* distances)
{
    const int left = kHalo - kReach, end = m_x1 + kReach, width = padded(end - left);
    const int xa = std::max(left, m_seenX0 - dx), xb = std::min(end, m_seenX1 - dx);
    const int offset = dy * kPitch + dx, count = padded(xb - xa);
    float weights[kPitch];
    for (int y = std::max(y0, kHalo - kMixRadius); y < std::min(y1, m_y1 + kMixRadius); ++y) {
        if (y + dy < m_seenY0 || y + dy >= m_seenY1)
            continue;
        const float *guides[kGuides], *variances[kGuides];
        for (int g = 0; g < kGuides; ++g) {
            guides[g] = at(m_guides[g], xa, y);
            variances[g] = at(m_guideVariance[g], xa, y);
        }
        averageWeights(distances + (y - y0) * width + (xa - left), guides, variances, offset, count, weights);
        std::fill(weights + (xb - xa), weights + count, 0.0f);
        for (std::size_t c = 0; c < m_values.size(); ++c)
            addWeighted(weights, at(m_values[c], xa + dx, y + dy), count, at(m_average.sums[c], xa, y));
        float* const sum = at(m_average.weight, xa, y);
        for (int i = 0; i < count; ++i)
            sum[i] += weights[i];
    }
}

void DenoiseTile::regressBlock(int bx, int by, const float* distances)
{
    const int x0 = bx - kBefore, y0 = by - kBefore;
    alignas(64) float weights[kOffsets];
    float weightSum = 0;
    regressionWeights(distances, weights);
    if (x0 < m_seenX0 || y0 < m_seenY0 || x0 + kWindow > m_seenX1 || y0 + kWindow > m_seenY1)
        for (int i = 0; i < kOffsets; ++i)
            if (const int x = x0 + i % kWindow, y = y0 + i / kWindow; x < m_seenX0 || x >= m_seenX1 || y < m_seenY0 || y >= m_seenY1)
                weights[i] = 0;
    for (const float w : weights)
        weightSum += w;
    if (!(weightSum > 0))
        return;

    alignas(64) float x[kGuides + 1][kOffsets], sharp[kSharpGuides][kOffsets];
    const float *regressors[kGuides + 1], *predictors[kGuides + 1];
    int n = 1;
    std::fill(std::begin(x[0]), std::end(x[0]), 1.0f);
    regressors[0] = predictors[0] = x[0];
    for (int g = 0; g < kGuides; ++g) {
        const float* guide = at(m_guides[g], x0, y0);
        const Moments m = momentsOf(weights, weightSum, guide, at(m_guideVariance[g], x0, y0), *at(m_guides[g], bx, by));
        if (m.variance <= 1e-6f || m.variance < m.noise * (g == kOpenGuide ? kOpenNoise : 1))
            continue;
        scaled(guide, m.mean, 1 / std::sqrt(m.variance), x[n]);
        regressors[n] = predictors[n] = x[n];
        // Guides and light of a pixel have the same samples, so they are fitted to each other; but the better guides predict.
        if (g < kSharpGuides) {
            scaled(at(m_sharpGuides[g], x0, y0), m.mean, 1 / std::sqrt(m.variance), sharp[g]);
            predictors[n] = sharp[g];
        }
        ++n;
    }

    const auto channels = static_cast<int>(m_values.size());
    thread_local std::vector<float> right;  // one column for each channel
    right.resize(static_cast<std::size_t>(channels * 16));
    thread_local std::vector<const float*> values;
    values.clear();
    for (const Plane& plane : m_values)
        values.push_back(at(plane, x0, y0));
    float left[16][16], dots[16];
    thread_local std::vector<float> sums;
    sums.resize(static_cast<std::size_t>(channels));
    for (int i = 0; i < n; ++i) {
        weightedDots(weights, x[i], regressors, kWindow, i + 1, dots);
        std::copy(dots, dots + i + 1, left[i]);
        if (i > 0)
            left[i][i] += kRidge * weightSum;
        weightedDots(weights, x[i], values.data(), kPitch, channels, sums.data());
        for (int c = 0; c < channels; ++c)
            right[static_cast<std::size_t>(c * 16 + i)] = sums[static_cast<std::size_t>(c)];
    }
    if (!factorise(left, n))
        return;
    for (int c = 0; c < channels; ++c) {
        float* const factors = &right[static_cast<std::size_t>(c * 16)];
        solve(left, n, factors);
        addPrediction(weights, predictors, factors, n, at(m_regression.sums[static_cast<std::size_t>(c)], x0, y0));
    }
    for (int r = 0; r < kWindow; ++r)
        for (int i = 0; i < kWindow; ++i)
            at(m_regression.weight, x0, y0 + r)[i] += weights[r * kWindow + i];
}

Rgb DenoiseTile::mixOf(const Filtered& from, int x, int y, const std::vector<Rgb>& weighing) const
{
    Rgb sum;
    for (std::size_t e = 0; e < weighing.size(); ++e) {
        const std::size_t c = kFirstEntry + 3 * e;
        sum += Rgb{*at(from.sums[c], x, y), *at(from.sums[c + 1], x, y), *at(from.sums[c + 2], x, y)} * weighing[e];
    }
    return sum;
}

void DenoiseTile::mix(const std::vector<Rgb>& weighing)
{
    // Both filters as means, with a little of the pixel's own in the regression.
    const int xa = kHalo - kMixRadius, xb = m_x1 + kMixRadius, ya = kHalo - kMixRadius, yb = m_y1 + kMixRadius;
    for (int y = ya; y < yb; ++y)
        for (int x = xa; x < xb; ++x) {
            const float average = 1 / *at(m_average.weight, x, y), regression = 1 / (*at(m_regression.weight, x, y) + kOwnShare);
            for (std::size_t c = 0; c < m_values.size(); ++c) {
                *at(m_average.sums[c], x, y) *= average;
                float& value = *at(m_regression.sums[c], x, y);
                value = (value + kOwnShare * *at(m_values[c], x, y)) * regression;
            }
        }
    // Estimated squared errors: each half against the other one as gathered, and the halves against each other.
    Plane errors[2] = {Plane(m_average.weight.size()), Plane(m_average.weight.size())}, noise(m_average.weight.size());
    for (int y = ya; y < yb; ++y)
        for (int x = xa; x < xb; ++x) {
            float v = 0;
            for (const Plane& variance : m_variance)
                v += *at(variance, x, y);
            *at(noise, x, y) = v;
            int which = 0;
            for (const Filtered* f : {&m_average, &m_regression}) {
                const Rgb whole = mixOf(*f, x, y, weighing);
                float error = -2 * v;
                for (std::size_t c = 0; c < 3; ++c) {
                    const float a = *at(f->sums[c], x, y), b = 2 * channel(whole, static_cast<int>(c)) - a;
                    const float ab = a - *at(m_halfB[c], x, y), ba = b - *at(m_halfA[c], x, y);
                    error += (ab * ab + ba * ba) / 2 + (a - b) * (a - b);
                }
                *at(errors[which++], x, y) = error;
            }
        }
    constexpr float kPerPixel = 1.0f / ((2 * kMixRadius + 1) * (2 * kMixRadius + 1));
    for (int y = kHalo; y < m_y1; ++y)
        for (int x = kHalo; x < m_x1; ++x) {
            float mean[2] = {0, 0}, v = 0;
            for (int oy = -kMixRadius; oy <= kMixRadius; ++oy)
                for (int ox = -kMixRadius; ox <= kMixRadius; ++ox) {
                    mean[0] += *at(errors[0], x + ox, y + oy);
                    mean[1] += *at(errors[1], x + ox, y + oy);
                    v += *at(noise, x + ox, y + oy);
                }
            const float floor = 0.05f * v * kPerPixel + 1e-6f;
            const float own[2] = {std::max(0.0f, mean[0] * kPerPixel) + floor, std::max(0.0f, mean[1] * kPerPixel) + floor};
            float share = own[0] * own[0] / (own[0] * own[0] + own[1] * own[1]);  // of the regression
            const float a = luminance(mixOf(m_average, x, y, weighing)), r = luminance(mixOf(m_regression, x, y, weighing));
            if (!(r >= 0.4f * a && r <= 2.5f * a))
                share = 0;
            for (std::size_t c = 0; c < m_values.size(); ++c) {
                const float of = *at(m_average.sums[c], x, y);
                *at(m_result.sums[c], x, y) = share > 0 ? of + (*at(m_regression.sums[c], x, y) - of) * share : of;
            }
        }
}

namespace {

Rgb times(const std::vector<float>* planes, const std::vector<float>* divisor, std::size_t i)
{
    return {planes[0][i] * divisor[0][i], planes[1][i] * divisor[1][i], planes[2][i] * divisor[2][i]};
}

std::size_t coreIndex(int x, int y)
{
    return static_cast<std::size_t>((y + kHalo) * kPitch + x + kHalo);
}

}  // namespace

Rgb DenoiseTile::share(int entry, int x, int y) const
{
    return times(&m_result.sums[kFirstEntry + 3 * static_cast<std::size_t>(entry)], m_divisor, coreIndex(x, y));
}

Rgb DenoiseTile::halfA(int x, int y) const
{
    return times(&m_result.sums[3], m_divisor, coreIndex(x, y));
}

Rgb DenoiseTile::takenAway(int entry, int x, int y) const
{
    return times(&m_values[kFirstEntry + 3 * static_cast<std::size_t>(entry)], m_divisor, coreIndex(x, y)) - share(entry, x, y);
}

}  // namespace render
