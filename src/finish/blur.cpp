#include "finish/blur.h"

#include <algorithm>
#include <cmath>

namespace finish {

namespace {

constexpr int kPasses = 4;
constexpr double kScale = 1 << 24;
constexpr float kMost = 1e6f;

// Pixels to both sides that count whole, and how much the next ones count.
struct Box {
    int radius = 0;
    double edge = 0;

    explicit Box(double sigmaPx)
    {
        const double s = sigmaPx * sigmaPx / kPasses;  // variance of each
        radius = static_cast<int>(std::floor((std::sqrt(12 * s + 1) - 1) / 2));
        const double r = radius;
        edge = (2 * r + 1) * (s - r * (r + 1) / 3) / (2 * ((r + 1) * (r + 1) - s));
    }
};

// Whole numbers in doubles: sums of them are exact, and the processor takes several at once.
using Line = std::vector<double>;

[[gnu::always_inline]] inline double wholeOf(double v)
{
    constexpr double kRound = 6755399441055744;  // 1.5 * 2^52: what is added to it loses its fraction
    return (v + kRound) - kRound;
}

// One box along lines of `count` values, each `lanes` wide and `step` from the next; `sums` holds as many.
[[gnu::always_inline]] inline void boxAlong(const Box& box, const double* from, double* to, int count, std::size_t lanes, std::size_t step,
                                            double* sums)
{
    const auto at = [&](int i) { return from + static_cast<std::size_t>(std::clamp(i, 0, count - 1)) * step; };
    const double weight = 1 / (2 * box.radius + 1 + 2 * box.edge), edge = box.edge;
    std::fill(sums, sums + lanes, 0.0);
    for (int i = -box.radius; i < box.radius; ++i) {
        const double* in = at(i);
        for (std::size_t c = 0; c < lanes; ++c)
            sums[c] += in[c];
    }
    for (int i = 0; i < count; ++i) {
        const double *in = at(i + box.radius), *before = at(i - box.radius - 1), *after = at(i + box.radius + 1), *out = at(i - box.radius);
        double* put = to + static_cast<std::size_t>(i) * step;
        for (std::size_t c = 0; c < lanes; ++c) {
            const double sum = sums[c] + in[c];
            put[c] = wholeOf((sum + edge * (before[c] + after[c])) * weight);
            sums[c] = sum - out[c];
        }
    }
}

constexpr std::size_t kStrip = 64;  // values side by side that all passes down go over together

// All passes over a plane of `width` x `height` pixels of `channels` values, one row and then one strip after the other: they stay in the
// processor's cache. `room` holds the larger of a row and two strips, `sums` a strip.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
boxes(const Box& box, double* plane, int width, int height, int channels, double* room, double* sums)
{
    const auto lanes = static_cast<std::size_t>(channels), row = static_cast<std::size_t>(width) * lanes,
               rows = static_cast<std::size_t>(height);
    for (int y = 0; y < height; ++y) {
        double *one = plane + static_cast<std::size_t>(y) * row, *other = room;
        for (int pass = 0; pass < kPasses; ++pass, std::swap(one, other))
            if (channels == 4)
                boxAlong(box, one, other, width, 4, 4, sums);
            else
                boxAlong(box, one, other, width, lanes, lanes, sums);
    }
    for (std::size_t from = 0; from < row; from += kStrip) {
        const std::size_t wide = std::min(kStrip, row - from);
        double *one = room, *other = room + rows * kStrip;
        for (std::size_t y = 0; y < rows; ++y)
            std::copy_n(plane + y * row + from, wide, one + y * kStrip);
        for (int pass = 0; pass < kPasses; ++pass, std::swap(one, other))
            if (wide == kStrip)
                boxAlong(box, one, other, height, kStrip, kStrip, sums);
            else
                boxAlong(box, one, other, height, wide, kStrip, sums);
        for (std::size_t y = 0; y < rows; ++y)
            std::copy_n(one + y * kStrip, wide, plane + y * row + from);
    }
}
static_assert(kPasses % 2 == 0, "the last pass ends where the first began");

// Where little is left that a pixel shows, blocks of so many pixels each way are blurred instead, between which the result is looked up.
int blockFor(double sigmaPx)
{
    int block = 1;
    while (sigmaPx / block > 8)
        block *= 2;
    return block;
}

// Deviation that blocks are blurred by: their mean and the looking up between them have spread light by a twelfth and a sixth of their
// side's square.
double inBlocks(double sigmaPx, int block)
{
    return block == 1 ? sigmaPx : std::sqrt(sigmaPx * sigmaPx - 0.25 * block * block) / block;
}

int floorDiv(int a, int b)
{
    return a >= 0 ? a / b : -((b - 1 - a) / b);
}

// Means of blocks that lie on a grid of the whole picture; those at its edge are of what is there.
Image blocksOf(const Image& image, int block)
{
    const Area& a = image.area;
    const Area small{floorDiv(a.x0, block), floorDiv(a.y0, block), floorDiv(a.x1 - 1, block) + 1, floorDiv(a.y1 - 1, block) + 1};
    const int channels = image.pixels.channels;
    Image result(small, channels);
    for (int y = small.y0; y < small.y1; ++y)
        for (int x = small.x0; x < small.x1; ++x) {
            const int x0 = std::max(a.x0, x * block), x1 = std::min(a.x1, (x + 1) * block), y0 = std::max(a.y0, y * block),
                      y1 = std::min(a.y1, (y + 1) * block);
            float* to = result.at(x, y);
            for (int j = y0; j < y1; ++j)
                for (int i = x0; i < x1; ++i)
                    for (int c = 0; c < channels; ++c)
                        to[c] += image.at(i, j)[c];
            for (int c = 0; c < channels; ++c)
                to[c] /= static_cast<float>((x1 - x0) * (y1 - y0));
        }
    return result;
}

Image boxed(const Image& image, const Area& area, double sigmaPx);

}  // namespace

int blurReach(double sigmaPx)
{
    if (!(sigmaPx > 0))
        return 0;
    const int block = blockFor(sigmaPx);
    return block * (kPasses * (Box(inBlocks(sigmaPx, block)).radius + 1) + (block > 1 ? 2 : 0));
}

Image blurred(const Image& image, const Area& area, double sigmaPx)
{
    const int block = sigmaPx > 0 ? blockFor(sigmaPx) : 1;
    if (block == 1)
        return boxed(image, area, sigmaPx);
    const Image blocks = blocksOf(image, block);
    const Image soft = boxed(blocks, blocks.area, inBlocks(sigmaPx, block));
    const int channels = image.pixels.channels;
    Image result(area, channels);
    const float per = 1.0f / static_cast<float>(block);
    const Area& s = soft.area;
    for (int y = area.y0; y < area.y1; ++y) {
        // From the middles of blocks.
        const float v = (static_cast<float>(y) + 0.5f) * per - 0.5f, fv = std::floor(v), dv = v - fv;
        const int row = std::clamp(static_cast<int>(fv), s.y0, s.y1 - 1), below = std::clamp(static_cast<int>(fv) + 1, s.y0, s.y1 - 1);
        for (int x = area.x0; x < area.x1; ++x) {
            const float u = (static_cast<float>(x) + 0.5f) * per - 0.5f, fu = std::floor(u), du = u - fu;
            const int column = std::clamp(static_cast<int>(fu), s.x0, s.x1 - 1),
                      right = std::clamp(static_cast<int>(fu) + 1, s.x0, s.x1 - 1);
            const float *a = soft.at(column, row), *b = soft.at(right, row), *c = soft.at(column, below), *d = soft.at(right, below);
            float* to = result.at(x, y);
            for (int i = 0; i < channels; ++i) {
                const float top = a[i] + (b[i] - a[i]) * du, low = c[i] + (d[i] - c[i]) * du;
                to[i] = top + (low - top) * dv;
            }
        }
    }
    return result;
}

namespace {

Image boxed(const Image& image, const Area& area, double sigmaPx)
{
    const int width = image.pixels.width, height = image.pixels.height, channels = image.pixels.channels;
    Image cut(area, channels);
    const auto across = static_cast<std::size_t>(area.x1 - area.x0) * static_cast<std::size_t>(channels);
    if (!(sigmaPx > 0)) {
        for (int y = area.y0; y < area.y1; ++y)
            std::copy_n(image.at(area.x0, y), across, cut.at(area.x0, y));
        return cut;
    }
    const std::size_t row = static_cast<std::size_t>(width) * static_cast<std::size_t>(channels);
    Line plane(image.pixels.values.size()), room(std::max(row, 2 * kStrip * static_cast<std::size_t>(height))),
        sums(std::max(kStrip, static_cast<std::size_t>(channels)));
    for (std::size_t i = 0; i < plane.size(); ++i)
        plane[i] = wholeOf(static_cast<double>(std::clamp(image.pixels.values[i], -kMost, kMost)) * kScale);
    boxes(Box(sigmaPx), plane.data(), width, height, channels, room.data(), sums.data());
    for (int y = area.y0; y < area.y1; ++y) {
        const double* from = plane.data() + (static_cast<std::size_t>(y - image.area.y0) * static_cast<std::size_t>(width) +
                                             static_cast<std::size_t>(area.x0 - image.area.x0)) *
                                                static_cast<std::size_t>(channels);
        float* to = cut.at(area.x0, y);
        for (std::size_t i = 0; i < across; ++i)
            to[i] = static_cast<float>(from[i] * (1 / kScale));
    }
    return cut;
}

}  // namespace

}  // namespace finish
