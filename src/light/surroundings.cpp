#include "light/surroundings.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "base/parallel.h"
#include "base/shared.h"

namespace light {

namespace {

constexpr int kWidth = 1024, kHeight = 512;
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

    explicit Placed(const SkyCard& card)
        : towards(card.towards),
          perWidth(1 / card.halfWidth),
          perHeight(1 / card.halfHeight),
          cosine(1 / std::sqrt(1 + card.halfWidth * card.halfWidth + card.halfHeight * card.halfHeight)),
          power(card.roundness > 0.02f ? 2 / card.roundness : 0),
          softness(card.softness),
          radiance(card.radiance)
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
        const float far = power > 0 ? std::pow(std::pow(x, power) + std::pow(y, power), 1 / power) : std::max(x, y);
        if (far >= 1)
            return 0;
        return softness > 0 ? smooth((1 - far) / softness) : 1;
    }
};

// A sky that can be asked often.
class Painter {
public:
    explicit Painter(const Sky& sky) : m_sky(sky), m_cosine(std::cos(sky.turn)), m_sine(std::sin(sky.turn))
    {
        for (const SkyCard& card : sky.cards)
            m_cards.emplace_back(card);
    }
    Rgb radiance(Vec3f direction) const
    {
        const Vec3f d{direction.x * m_cosine - direction.z * m_sine, direction.y, direction.z * m_cosine + direction.x * m_sine};
        const float height = std::asin(std::clamp(d.y, -1.0f, 1.0f)) / (kPi / 2);
        Rgb light = lerp(m_sky.horizon, height > 0 ? m_sky.above : m_sky.below, smooth(std::abs(height) / std::max(m_sky.softness, 0.01f)));
        for (const Placed& card : m_cards)
            if (const float cover = card.cover(d); cover > 0)
                light = lerp(light, card.radiance, cover);
        return light;
    }

private:
    const Sky& m_sky;
    float m_cosine, m_sine;
    std::vector<Placed> m_cards;
};

Vec3f directionAt(double column, double row)
{
    const double longitude = (column / kWidth - 0.5) * 2 * std::numbers::pi, colatitude = row / kHeight * std::numbers::pi;
    const double s = std::sin(colatitude);
    return {static_cast<float>(s * std::sin(longitude)), static_cast<float>(std::cos(colatitude)),
            static_cast<float>(s * std::cos(longitude))};
}

// Of a texel of that row, in steradians.
double solidAngleOf(int row)
{
    return 2 * std::numbers::pi / kWidth * (std::cos(std::numbers::pi * row / kHeight) - std::cos(std::numbers::pi * (row + 1) / kHeight));
}

// Place on the map, in texels from the middle of the first one.
base::Vec2 placeOf(Vec3f d)
{
    const float longitude = std::atan2(d.x, d.z), colatitude = std::acos(std::clamp(d.y, -1.0f, 1.0f));
    return {static_cast<double>(longitude / (2 * kPi) + 0.5f) * kWidth - 0.5, static_cast<double>(colatitude / kPi) * kHeight - 0.5};
}

std::size_t texelAt(base::Vec2 place)
{
    const int column = std::clamp(static_cast<int>(std::floor(place.x + 0.5)), 0, kWidth - 1),
              row = std::clamp(static_cast<int>(std::floor(place.y + 0.5)), 0, kHeight - 1);
    return static_cast<std::size_t>(row) * kWidth + static_cast<std::size_t>(column);
}

Rgb between(const std::vector<Rgb>& texels, base::Vec2 place)
{
    const double left = std::floor(place.x), top = std::floor(place.y);
    const int column = static_cast<int>(left), row = static_cast<int>(top);
    const auto at = [&](int r, int c) {
        return texels[static_cast<std::size_t>(std::clamp(r, 0, kHeight - 1)) * kWidth + static_cast<std::size_t>((c + kWidth) % kWidth)];
    };
    const auto fx = static_cast<float>(place.x - left), fy = static_cast<float>(place.y - top);
    return lerp(lerp(at(row, column), at(row, column + 1), fx), lerp(at(row + 1, column), at(row + 1, column + 1), fx), fy);
}

}  // namespace

Rgb Sky::radiance(Vec3f direction) const
{
    return Painter(*this).radiance(direction);
}

SkyMap::SkyMap(const Sky& sky) : m_sky(sky), m_radiance(static_cast<std::size_t>(kWidth) * kHeight), m_density(m_radiance.size())
{
    // Where an edge goes through a texel, its mean counts. Cards that are hardly larger than a texel are sought more closely.
    constexpr int kFine = 8;
    float smallest = 1;
    for (const SkyCard& card : sky.cards)
        smallest = std::min({smallest, card.halfWidth, card.halfHeight});
    const int probes = sky.cards.empty() ? 0 : smallest < 0.02f ? 5 : 2;
    const Painter painter(sky);
    base::parallelFor(static_cast<std::size_t>(kHeight), [&](std::size_t row) {
        const auto look = [&](int x, double right, double down) {
            return painter.radiance(directionAt(x + right, static_cast<double>(row) + down));
        };
        for (int x = 0; x < kWidth; ++x) {
            Rgb mean = look(x, 0.5, 0.5), low = mean, high = mean;
            for (int i = 0; i < probes; ++i)
                for (int k = 0; k < probes; ++k) {
                    const Rgb at = look(x, static_cast<double>(i) / (probes - 1), static_cast<double>(k) / (probes - 1));
                    low = {std::min(low.x, at.x), std::min(low.y, at.y), std::min(low.z, at.z)};
                    high = {std::max(high.x, at.x), std::max(high.y, at.y), std::max(high.z, at.z)};
                }
            if (luminance(high - low) > 0.02f * luminance(high)) {
                mean = {};
                for (int i = 0; i < kFine; ++i)
                    for (int k = 0; k < kFine; ++k)
                        mean += look(x, (i + 0.5) / kFine, (k + 0.5) / kFine);
                mean = mean * (1.0f / (kFine * kFine));
            }
            m_radiance[row * kWidth + static_cast<std::size_t>(x)] = mean;
        }
    });

    // What is looked up between texels is as bright as they are: the neighbours count too.
    std::vector<double> weights(m_radiance.size());
    double whole = 0;
    base::Vec3 mean;
    for (int row = 0; row < kHeight; ++row)
        for (int x = 0; x < kWidth; ++x) {
            const auto at = [&](int r, int c) {
                return static_cast<double>(luminance(m_radiance[static_cast<std::size_t>(std::clamp(r, 0, kHeight - 1)) * kWidth +
                                                                static_cast<std::size_t>((c + kWidth) % kWidth)]));
            };
            const std::size_t i = static_cast<std::size_t>(row) * kWidth + static_cast<std::size_t>(x);
            const double angle = solidAngleOf(row);
            weights[i] = angle * (0.5 * at(row, x) + 0.125 * (at(row - 1, x) + at(row + 1, x) + at(row, x - 1) + at(row, x + 1)));
            whole += weights[i];
            mean = mean + toDouble(m_radiance[i]) * (angle / (4 * std::numbers::pi));
        }
    m_mean = toFloat(mean);
    if (!(whole > 0))  // black: nothing to aim at
        return;
    m_rows.resize(kHeight);
    m_columns.resize(weights.size());
    double rows = 0, before = 0;
    for (int row = 0; row < kHeight; ++row) {
        const std::size_t first = static_cast<std::size_t>(row) * kWidth;
        const double inRow = std::accumulate(&weights[first], &weights[first] + kWidth, 0.0);
        double sum = 0;
        for (std::size_t x = 0; x < kWidth; ++x)
            m_columns[first + x] = inRow > 0 ? static_cast<float>((sum += weights[first + x]) / inRow) : 1;
        m_columns[first + kWidth - 1] = 1;
        rows += inRow;
        m_rows[static_cast<std::size_t>(row)] = row + 1 < kHeight ? static_cast<float>(rows / whole) : 1;
        // The densities are those of the sums as they are kept.
        const double share = static_cast<double>(m_rows[static_cast<std::size_t>(row)]) - before;
        before = static_cast<double>(m_rows[static_cast<std::size_t>(row)]);
        for (std::size_t x = 0; x < kWidth; ++x) {
            const double width = static_cast<double>(m_columns[first + x]) - (x > 0 ? static_cast<double>(m_columns[first + x - 1]) : 0);
            m_density[first + x] = static_cast<float>(share * width / solidAngleOf(row));
        }
    }
}

std::size_t SkyMap::texelOf(Vec3f direction) const
{
    return texelAt(placeOf(direction));
}

Rgb SkyMap::radiance(Vec3f direction) const
{
    return between(m_radiance, placeOf(direction));
}

float SkyMap::density(Vec3f direction) const
{
    return m_density[texelOf(direction)];
}

SkyMap::Sample SkyMap::sample(float u, float v) const
{
    if (m_rows.empty())
        return {};
    // The first whose running sum is above; how far it is through its own share is the place in it.
    const auto choose = [](const float* sums, int count, float at, double& within) {
        const auto found = static_cast<int>(std::upper_bound(sums, sums + count, at) - sums);
        const int index = std::min(found, count - 1);
        const double from = index > 0 ? static_cast<double>(sums[index - 1]) : 0, share = static_cast<double>(sums[index]) - from;
        within = share > 0 ? std::clamp((static_cast<double>(at) - from) / share, 0.0, 1.0) : 0.5;
        return index;
    };
    double down = 0, right = 0;
    const int row = choose(m_rows.data(), kHeight, v, down);
    const std::size_t first = static_cast<std::size_t>(row) * kWidth;
    const int column = choose(&m_columns[first], kWidth, u, right);
    // Even over the texel's solid angle.
    const double high = std::cos(std::numbers::pi * row / kHeight), low = std::cos(std::numbers::pi * (row + 1) / kHeight);
    const double y = high + (low - high) * down, level = std::sqrt(std::max(0.0, 1 - y * y));
    const double longitude = ((column + right) / kWidth - 0.5) * 2 * std::numbers::pi;
    const Vec3f direction{static_cast<float>(level * std::sin(longitude)), static_cast<float>(y),
                          static_cast<float>(level * std::cos(longitude))};
    return {direction, radiance(direction), m_density[first + static_cast<std::size_t>(column)]};
}

Rgb SkyMap::onCard(Vec3f facing) const
{
    std::vector<double> rows(kHeight * 3);
    base::parallelFor(static_cast<std::size_t>(kHeight), [&](std::size_t row) {
        base::Vec3 sum;
        for (int x = 0; x < kWidth; ++x)
            if (const float cosine = dot(directionAt(x + 0.5, static_cast<double>(row) + 0.5), facing); cosine > 0)
                sum = sum + toDouble(m_radiance[row * kWidth + static_cast<std::size_t>(x)]) * static_cast<double>(cosine);
        const double share = solidAngleOf(static_cast<int>(row)) / std::numbers::pi;
        rows[3 * row] = sum.x * share;
        rows[3 * row + 1] = sum.y * share;
        rows[3 * row + 2] = sum.z * share;
    });
    base::Vec3 whole;
    for (std::size_t row = 0; row < kHeight; ++row)
        whole = whole + base::Vec3{rows[3 * row], rows[3 * row + 1], rows[3 * row + 2]};
    return toFloat(whole);
}

[[gnu::noinline]] SkyMap::SeenWide SkyMap::look(const V3<Wide>& directions, const Mask& active) const
{
    SeenWide seen;
    for (int lane = 0; lane < kLanes; ++lane)
        if (active[lane]) {
            const base::Vec2 place = placeOf(laneOf(directions, lane));
            setLane(seen.radiance, lane, between(m_radiance, place));
            seen.density.v[lane] = m_density[texelAt(place)];
        }
    return seen;
}

[[gnu::noinline]] SkyMap::SamplesWide SkyMap::sampleAll(const Wide& u, const Wide& v) const
{
    SamplesWide all;
    for (int lane = 0; lane < kLanes; ++lane) {
        const Sample s = sample(u[lane], v[lane]);
        setLane(all.direction, lane, s.direction);
        setLane(all.radiance, lane, s.radiance);
        all.pdf.v[lane] = s.pdf;
    }
    return all;
}

std::shared_ptr<const SkyMap> skyMap(const Sky& sky)
{
    static base::Shared<SkyMap, Sky> maps;
    return maps.of(sky);
}

}  // namespace light
