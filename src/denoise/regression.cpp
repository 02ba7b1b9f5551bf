#include "denoise/regression.h"

#include <cmath>
#include <cstring>

namespace denoise {

namespace {

constexpr int kLaneCount = PixelLanes::kCount;
constexpr int kWindowSide = RegressionWindow::kSide;
constexpr int kWindowPixels = kWindowSide * kWindowSide;
constexpr int kTogether = 8;  // pixels that are predicted together: each waits for its last sum

using Row = float __attribute__((vector_size(64)));  // the lanes of a pixel
static_assert(sizeof(Row) == sizeof(PixelLanes));

[[gnu::always_inline]] inline Row load(const PixelLanes& lanes)
{
    Row row;
    std::memcpy(&row, lanes.v, sizeof row);
    return row;
}
[[gnu::always_inline]] inline void store(const Row& row, PixelLanes& lanes)
{
    std::memcpy(lanes.v, &row, sizeof row);
}

// to[i] = sum over the window of x[i] times weight times the lanes of `values`, which step as told.
[[gnu::always_inline]] inline void moments(const PixelLanes* x, const float* weights, const PixelLanes* values, std::ptrdiff_t step,
                                           std::ptrdiff_t pitch, PixelLanes* to)
{
    Row sums[kLaneCount] = {};
    for (int r = 0; r < kWindowSide; ++r)
        for (int c = 0; c < kWindowSide; ++c) {
            const int q = r * kWindowSide + c;
            const Row weighted = load(values[r * pitch + c * step]) * weights[q];
#pragma GCC unroll 16
            for (int i = 0; i < kLaneCount; ++i)
                sums[i] += weighted * x[q].v[i];
        }
    for (int i = 0; i < kLaneCount; ++i)
        store(sums[i], to[i]);
}

// In place: a, lower triangle, becomes its Cholesky factor, with the inverse of its diagonal. False when it is not positive.
[[gnu::always_inline]] inline bool factorise(float (&a)[kLaneCount][kLaneCount], int n)
{
    for (int i = 0; i < n; ++i)
        for (int j = 0; j <= i; ++j) {
            float sum = a[i][j];
            for (int k = 0; k < j; ++k)
                sum -= a[i][k] * a[j][k];
            if (i != j) {
                a[i][j] = sum * a[j][j];
            } else {
                if (!(sum > 0))
                    return false;
                a[i][i] = 1 / std::sqrt(sum);
            }
        }
    return true;
}

[[gnu::always_inline]] inline void solve(const float (&a)[kLaneCount][kLaneCount], int n, Row* x)
{
    for (int i = 0; i < n; ++i) {
        for (int k = 0; k < i; ++k)
            x[i] -= x[k] * a[i][k];
        x[i] *= a[i][i];
    }
    for (int i = n - 1; i >= 0; --i) {
        for (int k = i + 1; k < n; ++k)
            x[i] -= x[k] * a[k][i];
        x[i] *= a[i][i];
    }
}

}  // namespace

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void RegressionWindow::regress() const
{
    PixelLanes about = *centre;
    about.v[0] = 0;  // lane 0 stays 1
    const Row centred = load(about);
    PixelLanes x[kWindowPixels], better[kWindowPixels];  // guides and predictors about the centre
    Row noises{};
    for (int r = 0; r < kWindowSide; ++r)
        for (int c = 0; c < kWindowSide; ++c) {
            const int q = r * kWindowSide + c;
            store(load(guides[r * pitch + c]) - centred, x[q]);
            store(load(predictors[r * pitch + c]) - centred, better[q]);
            noises += load(noise[r * pitch + c]) * weights[q];
        }
    PixelLanes second[kLaneCount], noiseOf;
    moments(x, weights, x, 1, kWindowSide, second);
    store(noises, noiseOf);

    // Guides that say something here, about their mean and in units of their spread.
    int kept[kLaneCount], n = 0;
    float mean[kLaneCount], scale[kLaneCount];
    const float over = 1 / weightSum;
    for (int i = 1; i < kLaneCount; ++i) {
        const float m = second[0].v[i] * over, variance = second[i].v[i] * over - m * m;
        if (variance <= leastVariance[i] || variance < noiseOf.v[i] * over * noiseFactor[i])
            continue;
        mean[n] = m;
        scale[n] = 1 / std::sqrt(variance);
        kept[n++] = i;
    }
    float left[kLaneCount][kLaneCount];
    for (int i = 0; i < n; ++i) {
        for (int j = 0; j <= i; ++j)
            left[i][j] = (second[kept[i]].v[kept[j]] - weightSum * mean[i] * mean[j]) * scale[i] * scale[j];
        left[i][i] += ridge * weightSum;
    }
    if (!factorise(left, n))
        return;

    for (int group = 0; group < groups; ++group) {
        PixelLanes y[kLaneCount];
        moments(x, weights, light + group, groups, static_cast<std::ptrdiff_t>(pitch) * groups, y);
        Row factors[kLaneCount], constant = load(y[0]) * over;
        for (int i = 0; i < n; ++i)
            factors[i] = (load(y[kept[i]]) - load(y[0]) * mean[i]) * scale[i];
        solve(left, n, factors);
        for (int i = 0; i < n; ++i) {
            factors[i] *= scale[i];
            constant -= factors[i] * mean[i];
        }
        for (int r = 0; r < kWindowSide; ++r)
            for (int c = 0; c < kWindowSide; c += kTogether) {
                const int q = r * kWindowSide + c;
                Row predicted[kTogether];
                for (int k = 0; k < kTogether; ++k)
                    predicted[k] = constant;
                for (int i = 0; i < n; ++i)
#pragma GCC unroll 8
                    for (int k = 0; k < kTogether; ++k)
                        predicted[k] += factors[i] * better[q + k].v[kept[i]];
                for (int k = 0; k < kTogether; ++k) {
                    PixelLanes& to = sums[(static_cast<std::ptrdiff_t>(r) * pitch + c + k) * groups + group];
                    store(load(to) + predicted[k] * weights[q + k], to);
                }
            }
    }
    for (int r = 0; r < kWindowSide; ++r)
        for (int c = 0; c < kWindowSide; ++c)
            weightSums[static_cast<std::ptrdiff_t>(r) * pitch + c] += weights[r * kWindowSide + c];
}

namespace rows {

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void addNeighbours(const float* weights, std::ptrdiff_t step,
                                                                                         int taps, const PixelLanes* light, int groups,
                                                                                         int count, PixelLanes* to, float* sums)
{
    for (int i = 0; i < count; ++i) {
        float sum = 0;
        for (int k = 0; k < taps; ++k)
            sum += weights[k * step + i];
        sums[i] += sum;
        for (int group = 0; group < groups; ++group) {
            Row lanes = load(to[i * groups + group]);
            for (int k = 0; k < taps; ++k)
                lanes += load(light[(i + k) * groups + group]) * weights[k * step + i];
            store(lanes, to[i * groups + group]);
        }
    }
}

}  // namespace rows

}  // namespace denoise
