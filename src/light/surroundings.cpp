#include "light/surroundings.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <numbers>
#include <numeric>

#include "base/parallel.h"
#include "base/shared.h"

namespace light {

namespace {

constexpr int kWidth = 1024, kMostWidth = 2048;  // half as high
constexpr float kPi = std::numbers::pi_v<float>;

float smooth(float t)
{
    t = std::clamp(t, 0.0f, 1.0f);
    return t * t * (3 - 2 * t);
}

// A card as it is asked for: its axes as it is turned, and how far from its middle it can reach.
struct Placed {
    Vec3f towards, right, up;
    float perWidth, perHeight, cosine, power, softness;
    Rgb radiance;
    bool own;

    explicit Placed(const SkyCard& card)
        : towards(card.towards),
          perWidth(1 / card.halfWidth),
          perHeight(1 / card.halfHeight),
          cosine(1 / std::sqrt(1 + card.halfWidth * card.halfWidth + card.halfHeight * card.halfHeight)),
          power(card.roundness > 0.02f ? 2 / card.roundness : 0),
          softness(card.softness),
          radiance(card.own > 0 ? Rgb{} : card.radiance),
          own(card.own > 0)
    {
        // Right of it as seen from inside, and up.
        const Vec3f level = cross(towards, Vec3f{0, 1, 0});
        const Vec3f x = dot(level, level) > 1e-10f ? normalized(level) : Vec3f{1, 0, 0}, y = cross(x, towards);
        const float c = std::cos(card.turn), s = std::sin(card.turn);
        right = x * c + y * s;
        up = y * c - x * s;
    }
    // How much of what is behind it it covers in a direction.
    float cover(Vec3f direction) const
    {
        const float along = dot(direction, towards);
        if (along < cosine)
            return 0;
        const float x = std::abs(dot(direction, right)) / along * perWidth, y = std::abs(dot(direction, up)) / along * perHeight;
        if (x >= 1 || y >= 1)
            return 0;
        const float far = power == 2  ? std::sqrt(x * x + y * y)
                          : power > 0 ? std::pow(std::pow(x, power) + std::pow(y, power), 1 / power)
                                      : std::max(x, y);
        if (far >= 1)
            return 0;
        return softness > 0 ? smooth((1 - far) / softness) : 1;
    }
};

// A sky that can be asked often.
class Painter {
public:
    explicit Painter(const Sky& sky, const Panorama* picture)
        : m_sky(sky),
          m_picture(picture),
          m_even(sky.above == sky.horizon && sky.below == sky.horizon),
          m_cosine(std::cos(sky.turn)),
          m_sine(std::sin(sky.turn)),
          m_tiltCosine(std::cos(sky.tilt)),
          m_tiltSine(std::sin(sky.tilt))
    {
        for (const SkyCard& card : sky.cards)
            m_cards.emplace_back(card);
    }
    Rgb radiance(Vec3f direction, float* own = nullptr) const
    {
        const float y = direction.y * m_tiltCosine + direction.z * m_tiltSine, z = direction.z * m_tiltCosine - direction.y * m_tiltSine;
        const Vec3f d{direction.x * m_cosine - z * m_sine, y, z * m_cosine + direction.x * m_sine};
        if (m_picture)
            return withCards(m_picture->at(d), d, own);
        if (m_even)
            return withCards(m_sky.horizon, d, own);
        const float height = std::asin(std::clamp(d.y, -1.0f, 1.0f)) / (kPi / 2);
        return withCards(
            lerp(m_sky.horizon, height > 0 ? m_sky.above : m_sky.below, smooth(std::abs(height) / std::max(m_sky.softness, 0.01f))), d,
            own);
    }

private:
    // `own`: where the light of its own cards goes.
    Rgb withCards(Rgb light, Vec3f d, float* own) const
    {
        int place = 0;
        for (const Placed& card : m_cards) {
            if (const float cover = card.cover(d); cover > 0) {
                light = lerp(light, card.radiance, cover);
                for (int i = 0; own && i < place; ++i)
                    own[i] *= 1 - cover;
                if (own && card.own)
                    own[place] = cover;
            }
            place += card.own ? 1 : 0;
        }
        return light;
    }

    const Sky& m_sky;
    const Panorama* m_picture;
    bool m_even;  // without cards
    float m_cosine, m_sine, m_tiltCosine, m_tiltSine;
    std::vector<Placed> m_cards;
};

// Directions at steps of a pixel of a panorama of that size; the same that Panorama::directionAt() gives.
class Directions {
public:
    static constexpr int kSteps = 16;  // of a pixel

    Directions(int width, int height)
    {
        for (int i = 0; i <= kSteps * width; ++i) {
            const double longitude = (static_cast<double>(i) / kSteps / width - 0.5) * 2 * std::numbers::pi;
            m_round.push_back({std::sin(longitude), std::cos(longitude)});
        }
        for (int i = 0; i <= kSteps * height; ++i) {
            const double colatitude = static_cast<double>(i) / kSteps / height * std::numbers::pi;
            m_down.push_back({std::sin(colatitude), std::cos(colatitude)});
        }
    }
    Vec3f at(int right, int down) const
    {
        const auto [sine, cosine] = m_round[static_cast<std::size_t>(right)];
        const auto [s, c] = m_down[static_cast<std::size_t>(down)];
        return {static_cast<float>(s * sine), static_cast<float>(c), static_cast<float>(s * cosine)};
    }

private:
    std::vector<std::pair<double, double>> m_round, m_down;  // sines and cosines
};

int widthFor(const Sky& sky)
{
    return sky.picture ? std::clamp(sky.picture->width, kWidth, kMostWidth) : kWidth;
}

// Where a direction lies, in texels from the middle of the first: across, and down for its y. As Panorama::placeOf, to 1e-4.
template <class F>
F columnOf(const V3<F>& d, int width)
{
    const F level = root(d.x * d.x + d.z * d.z), quarter = asinOf(select(level > 0, absolute(d.x) / level, F(0)));
    const F half = select(d.z < 0, kPi - quarter, quarter);
    return (select(d.x < 0, -half, half) * (0.5f / kPi) + 0.5f) * static_cast<float>(width) - 0.5f;
}
template <class F>
F rowOf(const F& y, int height)
{
    return (0.5f - asinOf(clamped(y, F(-1), F(1))) * (1 / kPi)) * static_cast<float>(height) - 0.5f;
}

// As Panorama::at().
Rgb lightAt(const Panorama& of, float x, float y)
{
    const float left = std::floor(x), top = std::floor(y);
    const int column = static_cast<int>(left), row = static_cast<int>(top);
    const int first = column < 0 ? of.width - 1 : column, second = first + 1 == of.width ? 0 : first + 1;
    const int upper = std::max(row, 0), lower = std::min(row + 1, of.height - 1);
    return lerp(lerp(of.pixel(first, upper), of.pixel(second, upper), x - left),
                lerp(of.pixel(first, lower), of.pixel(second, lower), x - left), y - top);
}

// For running sums: where to begin to look for each of as many even steps.
template <class Sums>
void addStarts(Sums first, std::size_t count, std::vector<std::uint16_t>& starts)
{
    std::size_t index = 0;
    for (std::size_t step = 0; step < count; ++step) {
        while (index + 1 < count && first[index] <= (static_cast<float>(step) - 0.01f) / static_cast<float>(count))  // a step is rounded
            ++index;
        starts.push_back(static_cast<std::uint16_t>(index));
    }
}

// The first of running sums that is above `at`, and how far through its own share that is.
struct Found {
    int index;
    float within;
};
int stepOf(float at, int count)
{
    return std::min(count - 1, static_cast<int>(at * static_cast<float>(count)));
}
Found find(const float* sums, const std::uint16_t* starts, int count, float at)
{
    int index = starts[stepOf(at, count)];
    while (index + 1 < count && sums[index] <= at)
        ++index;
    const float from = index > 0 ? sums[index - 1] : 0, share = sums[index] - from;
    return {index, share > 0 ? std::clamp((at - from) / share, 0.0f, 1.0f) : 0.5f};
}

// How much each texel counts when directions are chosen: light times solid angle. What is looked up between texels is as bright as they
// are, so the neighbours count too. `own` are counted by `counts`; `angles` are those of the rows.
std::vector<double> weightsOf(const Panorama& radiance, const std::vector<Panorama>& own, const std::vector<float>& counts,
                              const std::vector<double>& angles)
{
    const auto across = static_cast<std::size_t>(radiance.width);
    std::vector<double> lines(radiance.pixels.size()), weights(lines.size());  // lines: with those to the left and to the right
    base::parallelFor(angles.size(), [&](std::size_t row) {
        std::vector<double> lights(across);
        for (std::size_t x = 0; x < across; ++x) {
            float light = luminance(radiance.pixels[row * across + x]);
            for (std::size_t i = 0; i < own.size(); ++i)
                light += counts[i] * own[i].pixels[row * across + x].x;
            lights[x] = static_cast<double>(light);
        }
        for (std::size_t x = 0; x < across; ++x)
            lines[row * across + x] = 0.125 * lights[(x + across - 1) % across] + 0.75 * lights[x] + 0.125 * lights[(x + 1) % across];
    });
    for (std::size_t row = 0; row < angles.size(); ++row) {
        const double *line = &lines[row * across], *over = row > 0 ? line - across : line,
                     *under = row + 1 < angles.size() ? line + across : line;
        for (std::size_t x = 0; x < across; ++x)
            weights[row * across + x] = angles[row] * (0.125 * over[x] + 0.75 * line[x] + 0.125 * under[x]);
    }
    return weights;
}

}  // namespace

Rgb Sky::radiance(Vec3f direction) const
{
    return Painter(*this, picture.get()).radiance(direction);
}

int Sky::ownCards() const
{
    return static_cast<int>(std::ranges::count_if(cards, [](const SkyCard& card) { return card.own > 0; }));
}

SkyMap::SkyMap(const Sky& sky) : m_sky(sky), m_radiance(widthFor(sky), widthFor(sky) / 2)
{
    const int width = m_radiance.width, height = m_radiance.height;
    const auto across = static_cast<std::size_t>(width);
    Panorama soft;
    if (sky.picture && sky.blur > 0)
        soft = blurred(*sky.picture, static_cast<double>(sky.blur));
    // Where an edge goes through a texel, its mean counts. Cards that are hardly larger than a texel are sought more closely.
    constexpr int kFine = 8;
    float smallest = 1;
    for (const SkyCard& card : sky.cards)
        smallest = std::min({smallest, card.halfWidth, card.halfHeight});
    const bool hasSmall = smallest < 0.02f;
    constexpr int kSteps = Directions::kSteps;
    const Directions directions(width, height);
    const Painter painter(sky, soft.width > 0 ? &soft : sky.picture.get());
    std::vector<float> counts;  // of its own cards
    for (const SkyCard& card : sky.cards)
        if (card.own > 0)
            counts.push_back(card.own);
    const std::size_t owns = counts.size();
    m_own.assign(owns, Panorama(width, height));
    constexpr int kTogether = 8;  // rows, which share the corners between them
    base::parallelFor(static_cast<std::size_t>((height + kTogether - 1) / kTogether), [&](std::size_t band) {
        std::vector<float> own(owns), sums(owns);
        // All of it; `sums` gather what is its own cards'.
        const auto look = [&](Vec3f direction) {
            std::ranges::fill(own, 0.0f);
            const Rgb seen = painter.radiance(direction, own.data());
            for (std::size_t i = 0; i < owns; ++i)
                sums[i] += own[i];
            return seen;
        };
        const auto take = [&](Rgb seen) {  // as bright as it counts
            for (std::size_t i = 0; i < owns; ++i)
                seen += Rgb{1, 1, 1} * (own[i] * counts[i]);
            return seen;
        };
        const auto cornersAt = [&](int row, std::vector<Rgb>& corners) {
            for (int x = 0; x <= width; ++x)
                corners[static_cast<std::size_t>(x)] = take(look(directions.at(kSteps * x, kSteps * row)));
        };
        const int first = static_cast<int>(band) * kTogether, end = std::min(first + kTogether, height);
        std::vector<Rgb> over(sky.cards.empty() ? 0 : across + 1), under(over.size());
        if (!sky.cards.empty())
            cornersAt(first, under);
        for (int row = first; row < end; ++row) {
            if (!sky.cards.empty()) {
                over.swap(under);
                cornersAt(row + 1, under);
            }
            for (int x = 0; x < width; ++x) {
                std::ranges::fill(sums, 0.0f);
                Rgb mean = look(directions.at(kSteps * x + kSteps / 2, kSteps * row + kSteps / 2)), low = take(mean), high = low;
                const auto count = [&](Rgb at) {
                    low = {std::min(low.x, at.x), std::min(low.y, at.y), std::min(low.z, at.z)};
                    high = {std::max(high.x, at.x), std::max(high.y, at.y), std::max(high.z, at.z)};
                };
                if (!sky.cards.empty())
                    for (const auto* corners : {&over, &under})
                        for (int right : {0, 1})
                            count((*corners)[static_cast<std::size_t>(x + right)]);
                if (hasSmall) {
                    constexpr int kProbes = 5, kStep = kSteps / (kProbes - 1);
                    const auto middle = sums;
                    for (int i = 0; i < kProbes; ++i)
                        for (int k = 0; k < kProbes; ++k)
                            count(take(look(directions.at(kSteps * x + kStep * i, kSteps * row + kStep * k))));
                    sums = middle;
                }
                if (luminance(high - low) > 0.02f * luminance(high)) {
                    mean = {};
                    std::ranges::fill(sums, 0.0f);
                    constexpr int kStep = kSteps / kFine;
                    for (int i = 0; i < kFine; ++i)
                        for (int k = 0; k < kFine; ++k)
                            mean += look(directions.at(kSteps * x + kStep * i + kStep / 2, kSteps * row + kStep * k + kStep / 2));
                    mean = mean * (1.0f / (kFine * kFine));
                    for (float& sum : sums)
                        sum *= 1.0f / (kFine * kFine);
                }
                m_radiance.pixel(x, row) = mean;
                for (std::size_t i = 0; i < owns; ++i)
                    m_own[i].pixel(x, row) = Rgb{1, 1, 1} * sums[i];
            }
        }
    });

    std::vector<double> angles;
    for (int row = 0; row < height; ++row)
        angles.push_back(m_radiance.solidAngleOf(row));
    const std::vector<double> weights = weightsOf(m_radiance, m_own, counts, angles);
    const double whole = std::accumulate(weights.begin(), weights.end(), 0.0);
    base::Vec3 mean;
    for (std::size_t row = 0; row < angles.size(); ++row) {
        base::Vec3 inRow;
        for (std::size_t x = 0; x < across; ++x)
            inRow = inRow + toDouble(m_radiance.pixels[row * across + x]);
        mean = mean + inRow * (angles[row] / (4 * std::numbers::pi));
    }
    m_mean = toFloat(mean);
    for (int row = 0; row <= height; ++row)
        m_cosines.push_back(static_cast<float>(std::cos(std::numbers::pi * row / height)));
    if (!(whole > 0))  // black: nothing to aim at
        return;
    m_rows.resize(static_cast<std::size_t>(height));
    m_columns.resize(weights.size());
    double rows = 0, before = 0;
    for (int row = 0; row < height; ++row) {
        const std::size_t first = static_cast<std::size_t>(row) * across;
        const double inRow = std::accumulate(&weights[first], &weights[first] + across, 0.0);
        double sum = 0;
        for (std::size_t x = 0; x < across; ++x)
            m_columns[first + x] = inRow > 0 ? static_cast<float>((sum += weights[first + x]) / inRow) : 1;
        m_columns[first + across - 1] = 1;
        rows += inRow;
        m_rows[static_cast<std::size_t>(row)] = row + 1 < height ? static_cast<float>(rows / whole) : 1;
        // The densities are those of the sums as they are kept.
        const double share = static_cast<double>(m_rows[static_cast<std::size_t>(row)]) - before;
        before = static_cast<double>(m_rows[static_cast<std::size_t>(row)]);
        m_rowDensity.push_back(static_cast<float>(share / angles[static_cast<std::size_t>(row)]));
    }
    addStarts(m_rows.begin(), m_rows.size(), m_rowStarts);
    m_columnStarts.reserve(m_columns.size());
    for (std::size_t row = 0; row < angles.size(); ++row)
        addStarts(&m_columns[row * across], across, m_columnStarts);
}

float SkyMap::densityOf(int column, int row) const
{
    const float* sum =
        &m_columns[static_cast<std::size_t>(row) * static_cast<std::size_t>(m_radiance.width) + static_cast<std::size_t>(column)];
    return m_rowDensity[static_cast<std::size_t>(row)] * (column > 0 ? sum[0] - sum[-1] : sum[0]);
}

float SkyMap::densityAt(float x, float y) const
{
    return m_rows.empty() ? 0
                          : densityOf(std::clamp(static_cast<int>(std::floor(x + 0.5f)), 0, m_radiance.width - 1),
                                      std::clamp(static_cast<int>(std::floor(y + 0.5f)), 0, m_radiance.height - 1));
}

Rgb SkyMap::radiance(Vec3f direction) const
{
    return lightAt(m_radiance, columnOf(direction, m_radiance.width), rowOf(direction.y, m_radiance.height));
}

float SkyMap::density(Vec3f direction) const
{
    return densityAt(columnOf(direction, m_radiance.width), rowOf(direction.y, m_radiance.height));
}

// Even over the solid angle of a texel between colatitudes of these cosines; `across` is in texels.
template <class F>
V3<F> SkyMap::directionOf(F upper, F lower, F down, F across) const
{
    const F y = upper + (lower - upper) * down, level = root(max(F(0), 1 - y * y));
    const SinCos<F> turn = sinCosOf(across * (1.0f / static_cast<float>(m_radiance.width)));
    return {-level * turn.sine, y, -level * turn.cosine};
}

SkyMap::Sample SkyMap::sample(float u, float v) const
{
    if (m_rows.empty())
        return {};
    const Found row = find(m_rows.data(), m_rowStarts.data(), m_radiance.height, v);
    const std::size_t first = static_cast<std::size_t>(row.index) * static_cast<std::size_t>(m_radiance.width);
    const Found column = find(&m_columns[first], &m_columnStarts[first], m_radiance.width, u);
    const float across = static_cast<float>(column.index) + column.within;
    const auto at = static_cast<std::size_t>(row.index);
    const Vec3f direction = directionOf(m_cosines[at], m_cosines[at + 1], row.within, across);
    return {direction, lightAt(m_radiance, across - 0.5f, rowOf(direction.y, m_radiance.height)), densityOf(column.index, row.index)};
}

Rgb SkyMap::onCard(Vec3f facing) const
{
    const int width = m_radiance.width, height = m_radiance.height;
    std::vector<double> rows(static_cast<std::size_t>(height) * 3);
    base::parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
        base::Vec3 sum;
        for (int x = 0; x < width; ++x)
            if (const float cosine = dot(m_radiance.directionAt(x + 0.5, static_cast<double>(row) + 0.5), facing); cosine > 0)
                sum = sum + toDouble(m_radiance.pixel(x, static_cast<int>(row))) * static_cast<double>(cosine);
        const double share = m_radiance.solidAngleOf(static_cast<int>(row)) / std::numbers::pi;
        rows[3 * row] = sum.x * share;
        rows[3 * row + 1] = sum.y * share;
        rows[3 * row + 2] = sum.z * share;
    });
    base::Vec3 whole;
    for (std::size_t row = 0; row < static_cast<std::size_t>(height); ++row)
        whole = whole + base::Vec3{rows[3 * row], rows[3 * row + 1], rows[3 * row + 2]};
    return toFloat(whole);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] SkyMap::SeenWide
SkyMap::look(const V3<Wide>& directions, const Mask& active) const
{
    const Wide columns = columnOf(directions, m_radiance.width), rows = rowOf(directions.y, m_radiance.height);
    SeenWide seen;
    for (int lane = 0; lane < kLanes; ++lane)
        if (active[lane]) {
            setLane(seen.radiance, lane, lightAt(m_radiance, columns[lane], rows[lane]));
            seen.density.v[lane] = densityAt(columns[lane], rows[lane]);
        }
    return seen;
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] V3<Wide>
SkyMap::lookAt(int ownCard, const V3<Wide>& directions, const Mask& active) const
{
    const Wide columns = columnOf(directions, m_radiance.width), rows = rowOf(directions.y, m_radiance.height);
    V3<Wide> seen{0, 0, 0};
    for (int lane = 0; lane < kLanes; ++lane)
        if (active[lane])
            setLane(seen, lane, lightAt(m_own[static_cast<std::size_t>(ownCard)], columns[lane], rows[lane]));
    return seen;
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] SkyMap::SamplesWide
SkyMap::sampleAll(const Wide& u, const Wide& v) const
{
    SamplesWide all;
    if (m_rows.empty())
        return all;
    // In steps, so that all lanes wait for memory together.
    const int width = m_radiance.width;
    Found rows[kLanes];
    const std::uint16_t* starts[kLanes];
    const float* sums[kLanes];
    for (int lane = 0; lane < kLanes; ++lane) {
        rows[lane] = find(m_rows.data(), m_rowStarts.data(), m_radiance.height, v[lane]);
        const std::size_t first = static_cast<std::size_t>(rows[lane].index) * static_cast<std::size_t>(width);
        starts[lane] = &m_columnStarts[first];
        sums[lane] = &m_columns[first];
        __builtin_prefetch(starts[lane] + stepOf(u[lane], width));
    }
    for (int lane = 0; lane < kLanes; ++lane)
        __builtin_prefetch(sums[lane] + starts[lane][stepOf(u[lane], width)]);
    Wide upper, lower, down, across;
    for (int lane = 0; lane < kLanes; ++lane) {
        const Found column = find(sums[lane], starts[lane], width, u[lane]);
        const int row = rows[lane].index;
        __builtin_prefetch(&m_radiance.pixel(column.index, row));
        upper.v[lane] = m_cosines[static_cast<std::size_t>(row)];
        lower.v[lane] = m_cosines[static_cast<std::size_t>(row) + 1];
        down.v[lane] = rows[lane].within;
        across.v[lane] = static_cast<float>(column.index) + column.within;
        all.pdf.v[lane] = densityOf(column.index, row);
    }
    all.direction = directionOf(upper, lower, down, across);
    const Wide x = across - 0.5f, y = rowOf(all.direction.y, m_radiance.height);
    for (int lane = 0; lane < kLanes; ++lane) {
        Rgb radiance = lightAt(m_radiance, x[lane], y[lane]);
        for (const Panorama& own : m_own)
            radiance += lightAt(own, x[lane], y[lane]);
        setLane(all.radiance, lane, radiance);
    }
    return all;
}

std::shared_ptr<const SkyMap> skyMap(const Sky& sky)
{
    static base::Shared<SkyMap, Sky> maps;
    static std::mutex mutex;
    static std::shared_ptr<const SkyMap> last;
    auto map = maps.of(sky);
    const std::lock_guard lock(mutex);
    if (map->map().width <= kWidth)
        last = map;
    return map;
}

namespace {

const Panorama& partOf(const SkyMap& map, int ownCard)
{
    return ownCard < 0 ? map.map() : map.ownCards()[static_cast<std::size_t>(ownCard)];
}

struct SoftPart {
    Sky sky;
    float radius;
    int ownCard;

    bool operator==(const SoftPart&) const = default;
};

struct Soft {
    Panorama picture;

    explicit Soft(const SoftPart& of) : picture(blurred(partOf(*skyMap(of.sky), of.ownCard), static_cast<double>(of.radius))) {}
};

}  // namespace

SharedPanorama mapOf(const Sky& sky, float radius, int ownCard)
{
    if (radius <= 0) {
        const auto map = skyMap(sky);
        return {map, &partOf(*map, ownCard)};
    }
    static base::Shared<Soft, SoftPart> soft;
    const auto made = soft.of({sky, radius, ownCard});
    return {made, &made->picture};
}

}  // namespace light
