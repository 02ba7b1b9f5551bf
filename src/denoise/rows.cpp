#include "denoise/rows.h"

#include <algorithm>
#include <bit>

namespace denoise::rows {

namespace {

// e^-x for x >= 0, to 2e-5.
[[gnu::always_inline]] inline float expOfMinus(float x)
{
    const float t = 127 - std::min(x * 1.44269504f, 126.0f);
    const int whole = static_cast<int>(t);
    const float f = t - static_cast<float>(whole);
    const float power = 1 + f * (0.69314718f + f * (0.24022651f + f * (0.05203572f + f * 0.01353996f)));
    return power * std::bit_cast<float>(whole << 23);
}

}  // namespace

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void addWeighted(const float* weights, const float* values, int count,
                                                                                       float* __restrict to)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        to[i] += weights[i] * values[i];
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void addScaled(float factor, const float* values, int count,
                                                                                     float* __restrict to)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        to[i] += factor * values[i];
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void multiply(const float* factors, int count, float* __restrict to)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        to[i] *= factors[i];
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void fastWeights(const FastRow& row, std::ptrdiff_t offset,
                                                                                       float kernel, float least, int count,
                                                                                       float* __restrict weights, float* __restrict sums,
                                                                                       float* __restrict noises)
{
    const float *g0 = row.guides[0], *g1 = row.guides[1], *g2 = row.guides[2], *g3 = row.guides[3], *g4 = row.guides[4],
                *g5 = row.guides[5], *g6 = row.guides[6], *g7 = row.guides[7], *g8 = row.guides[8], *light = row.light,
                *lightNoise = row.lightNoise, *noise = row.noise;
#pragma GCC ivdep
    for (int i = 0; i < count; ++i) {
        const std::ptrdiff_t q = i + offset;
        const float d0 = g0[i] - g0[q], d1 = g1[i] - g1[q], d2 = g2[i] - g2[q], d3 = g3[i] - g3[q], d4 = g4[i] - g4[q], d5 = g5[i] - g5[q],
                    d6 = g6[i] - g6[q], d7 = g7[i] - g7[q], d8 = g8[i] - g8[q], dl = light[i] - light[q];
        const float unseen = 1e-6f + 1e-4f * light[i] * light[i];
        const float distance = d0 * d0 + d1 * d1 + d2 * d2 + d3 * d3 + d4 * d4 + d5 * d5 + d6 * d6 + d7 * d7 + d8 * d8 +
                               dl * dl / (4 * (lightNoise[i] + lightNoise[q]) + unseen);
        const float like = std::max(0.0f, 1 - distance / 4);
        const float w = kernel * std::max(least, like * like * like * like);
        weights[i] = g8[i] > 0 && g8[q] > 0 ? w : 0;
    }
#pragma GCC ivdep
    for (int i = 0; i < count; ++i) {
        sums[i] += weights[i];
        noises[i] += weights[i] * weights[i] * noise[i + offset];
    }
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void
fastSpread(const FastRow& row, std::span<const std::ptrdiff_t> offsets, int count, float* __restrict mean, float* __restrict spread)
{
    const float *nx = row.guides[0], *ny = row.guides[1], *nz = row.guides[2], *alpha = row.guides[FastRow::kGuides - 1],
                *light = row.light;
    float sums[kLanes], squares[kLanes], counts[kLanes];
    for (int from = 0; from < count; from += kLanes) {
        for (int i = 0; i < kLanes; ++i)
            sums[i] = squares[i] = counts[i] = 0;
        for (const std::ptrdiff_t offset : offsets)
#pragma GCC ivdep
            for (int i = 0; i < kLanes; ++i) {
                const std::ptrdiff_t p = from + i, q = p + offset;
                const float facing = nx[p] * nx[q] + ny[p] * ny[q] + nz[p] * nz[q], own = nx[p] * nx[p] + ny[p] * ny[p] + nz[p] * nz[p];
                const float counted = alpha[q] > 0 && facing >= 0.9f * own ? 1.0f : 0.0f;
                sums[i] += counted * light[q];
                squares[i] += counted * light[q] * light[q];
                counts[i] += counted;
            }
#pragma GCC ivdep
        for (int i = 0; i < kLanes; ++i) {
            const float over = 1 / std::max(1.0f, counts[i]), l = light[from + i], m = counts[i] > 2 ? sums[i] * over : l;
            mean[from + i] = m;
            spread[from + i] = counts[i] > 2 ? std::max(0.0f, squares[i] * over - m * m) : 0.25f * l * l;
        }
    }
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void fastMeans(int count, float* __restrict sums,
                                                                                     float* __restrict noises)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i) {
        sums[i] = sums[i] > 0 ? 1 / sums[i] : 0;
        noises[i] *= sums[i] * sums[i];
    }
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void boxSums(const float* values, std::ptrdiff_t step, int radius,
                                                                                   int count, float* __restrict to)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        to[i] = values[i];
    for (int r = 1; r <= radius; ++r) {
        const float *before = values - r * step, *after = values + r * step;
#pragma GCC ivdep
        for (int i = 0; i < count; ++i)
            to[i] += before[i] + after[i];
    }
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void
differences(const float* const* mean, const float* const* variance, std::ptrdiff_t offset, int count, float* __restrict out)
{
    const float *m0 = mean[0], *m1 = mean[1], *m2 = mean[2], *v0 = variance[0], *v1 = variance[1], *v2 = variance[2];
#pragma GCC ivdep
    for (int i = 0; i < count; ++i) {
        const std::ptrdiff_t q = i + offset;
        const float d0 = m0[i] - m0[q], d1 = m1[i] - m1[q], d2 = m2[i] - m2[q];
        const float n0 = d0 * d0 - (v0[i] + std::min(v0[i], v0[q])), n1 = d1 * d1 - (v1[i] + std::min(v1[i], v1[q])),
                    n2 = d2 * d2 - (v2[i] + std::min(v2[i], v2[q]));
        // A difference under a third of a percent cannot be seen and counts as none.
        const float o0 = v0[i] + v0[q] + (1e-6f + 1e-5f * (m0[i] * m0[i] + m0[q] * m0[q])),
                    o1 = v1[i] + v1[q] + (1e-6f + 1e-5f * (m1[i] * m1[i] + m1[q] * m1[q])),
                    o2 = v2[i] + v2[q] + (1e-6f + 1e-5f * (m2[i] * m2[i] + m2[q] * m2[q]));
        out[i] = (n0 * o1 + n1 * o0) / (o0 * o1) + n2 / o2;
    }
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void patchMeans(const float* const* rows, int count,
                                                                                      float* __restrict out)
{
    const float *a = rows[0], *b = rows[1], *c = rows[2];
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        out[i] = std::max(0.0f, (a[i] + a[i + 1] + a[i + 2] + b[i] + b[i + 1] + b[i + 2] + c[i] + c[i + 1] + c[i + 2]) * (1.0f / 27));
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void
likeness(const float* distances, float distanceWidth, std::span<const GuideGroup> groups, const float* const* guides,
         const float* const* variances, const float* const* widths, std::ptrdiff_t offset, int count, float* __restrict out)
{
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        out[i] = distances[i] * distanceWidth;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        const float *v = variances[g], *width = widths[g], *f0 = guides[groups[g].from];
        if (groups[g].to - groups[g].from == 3) {
            const float *f1 = guides[groups[g].from + 1], *f2 = guides[groups[g].from + 2];
#pragma GCC ivdep
            for (int i = 0; i < count; ++i) {
                const std::ptrdiff_t q = i + offset;
                const float a = f0[i] - f0[q], b = f1[i] - f1[q], c = f2[i] - f2[q];
                out[i] = std::max(out[i], (a * a + b * b + c * c - (v[i] + std::min(v[i], v[q]))) * width[i]);
            }
        } else {
#pragma GCC ivdep
            for (int i = 0; i < count; ++i) {
                const std::ptrdiff_t q = i + offset;
                const float a = f0[i] - f0[q];
                out[i] = std::max(out[i], (a * a - (v[i] + std::min(v[i], v[q]))) * width[i]);
            }
        }
    }
#pragma GCC ivdep
    for (int i = 0; i < count; ++i)
        out[i] = expOfMinus(out[i]);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]] void pilotLikeness(const float* const* pilot, const float* variance,
                                                                                         int pitch, int side, int centre,
                                                                                         const PilotWidths& widths, float* __restrict out)
{
    const std::ptrdiff_t at = static_cast<std::ptrdiff_t>(centre) * pitch + centre;
    const float p0 = pilot[0][at], p1 = pilot[1][at], p2 = pilot[2][at], v = variance[at];
    const float unseen = widths.unseen * (p0 * p0 + p1 * p1 + p2 * p2) + 1e-7f;
    for (int row = 0; row < side; ++row) {
        const std::ptrdiff_t first = static_cast<std::ptrdiff_t>(row) * pitch;
        const float *q0 = pilot[0] + first, *q1 = pilot[1] + first, *q2 = pilot[2] + first, *vq = variance + first;
        float* const to = out + static_cast<std::ptrdiff_t>(row) * side;
#pragma GCC ivdep
        for (int i = 0; i < side; ++i) {
            const float d0 = q0[i] - p0, d1 = q1[i] - p1, d2 = q2[i] - p2;
            const float beyond = std::max(0.0f, (d0 * d0 + d1 * d1 + d2 * d2) * (1.0f / 3) - (v + std::min(v, vq[i])));
            to[i] = std::max(widths.least, expOfMinus(beyond / (v + vq[i] + unseen) * widths.width));
        }
    }
}

}  // namespace denoise::rows
