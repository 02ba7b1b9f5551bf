#include "surface/thin_film.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/shared.h"
#include "picture/cie1931.h"
#include "surface/surface.h"

namespace surface {

namespace {

constexpr int kCurve = 192;                      // points of a curve, by the cosine
constexpr int kCosines = 32, kRoughnesses = 17;  // of the albedos; cosines stand by their square root
constexpr int kAlbedos = kCosines * kRoughnesses;
constexpr double kMostHeadOn = 0.9999;  // a perfect mirror is near enough

float cosineAt(int i)
{
    const float t = std::max(0.02f, static_cast<float>(i) / (kCosines - 1));
    return t * t;
}

// How much each wavelength counts for each channel: what reflects them all is 1, 1, 1.
struct Weights {
    double of[picture::kCieRows][3];

    Weights()
    {
        double sums[3] = {};
        for (int i = 0; i < picture::kCieRows; ++i) {
            const Rgb one = picture::seenUnderD65([&](float nm) { return nm == picture::cieWavelength(i) ? 1.0 : 0.0; });
            const double channels[3] = {static_cast<double>(one.x), static_cast<double>(one.y), static_cast<double>(one.z)};
            for (int c = 0; c < 3; ++c)
                sums[c] += of[i][c] = channels[c];
        }
        for (auto& row : of)
            for (int c = 0; c < 3; ++c)
                row[c] /= sums[c];
    }
};

// Albedo is the mean of what facets reflect over those that are seen. For a cosine of the view and a roughness: how much each point of a
// curve counts for it.
class Shares {
public:
    Shares() : m_of(static_cast<std::size_t>(kAlbedos) * kCurve)
    {
        for (int r = 0; r < kRoughnesses; ++r)
            for (int c = 0; c < kCosines; ++c)
                add(cosineAt(c), static_cast<float>(r) / (kRoughnesses - 1), &m_of[static_cast<std::size_t>(r * kCosines + c) * kCurve]);
    }
    Rgb albedo(int at, const std::vector<Rgb>& curve) const
    {
        Rgb sum;
        for (std::size_t i = 0; i < kCurve; ++i)
            sum += curve[i] * m_of[static_cast<std::size_t>(at) * kCurve + i];
        return sum;
    }

private:
    // As EnergyTables does.
    static void add(float cosine, float roughness, float* to)
    {
        constexpr int kSteps = 48, kSides = 16;
        const float alpha = std::max(kSmallestAlpha, roughness * roughness);
        const Vec3f view{std::sqrt(1 - cosine * cosine), 0, cosine};
        const float lambda = smithLambda(view, alpha);
        for (int i = 0; i < kSteps; ++i)
            for (int j = 0; j < kSides; ++j) {
                const float t = (static_cast<float>(i) + 0.5f) / kSteps, weight = 2 * (1 - t) / (kSteps * kSides);
                const Vec3f h =
                    sampleGgxVisible(view, alpha, 1 - (1 - t) * (1 - t), 0.25f + (static_cast<float>(j) + 0.5f) * (0.5f / kSides));
                const Vec3f light = h * (2 * dot(view, h)) - view;
                if (!(light.z > 0))
                    continue;
                const float share = weight * (1 + lambda) / (1 + lambda + smithLambda(light, alpha));
                const float x = std::clamp(dot(view, h), 0.0f, 1.0f) * (kCurve - 1);
                const int below = std::min(static_cast<int>(x), kCurve - 2);
                to[below] += share * (1 - (x - static_cast<float>(below)));
                to[below + 1] += share * (x - static_cast<float>(below));
            }
    }

    std::vector<float> m_of;
};

const Shares& shares()
{
    static const Shares all;
    return all;
}

}  // namespace

double filmReflectance(double cosine, double index, double thicknessNm, double base, double wavelengthNm)
{
    const double sin2 = 1 - cosine * cosine;
    const double inside = std::sqrt(1 - sin2 / (index * index)), below = std::sqrt(std::max(0.0, 1 - sin2 / (base * base)));
    const double phase = 4 * std::numbers::pi * index * thicknessNm * inside / wavelengthNm;
    const auto airy = [&](double upper, double lower) {
        const double both = 2 * upper * lower * std::cos(phase), product = upper * lower;
        return (upper * upper + lower * lower + both) / (1 + product * product + both);
    };
    const double perpendicular = airy((cosine - index * inside) / (cosine + index * inside),
                                      (index * inside - base * below) / std::max(1e-12, index * inside + base * below));
    const double parallel = airy((index * cosine - inside) / (index * cosine + inside),
                                 (base * inside - index * below) / std::max(1e-12, base * inside + index * below));
    return (perpendicular + parallel) / 2;
}

ThinFilm::ThinFilm(const Stack& stack)
    : m_stack(stack), m_layer(curveOver(stack.layer)), m_metal(curveOver(stack.metal)), m_albedo(kAlbedos), m_mean(kRoughnesses)
{
    for (int i = 0; i < kAlbedos; ++i)
        m_albedo[static_cast<std::size_t>(i)] = shares().albedo(i, m_layer);
    for (int r = 0; r < kRoughnesses; ++r) {
        constexpr int kSteps = 128;
        for (int i = 0; i < kSteps; ++i) {
            const float cosine = (static_cast<float>(i) + 0.5f) / kSteps;
            m_mean[static_cast<std::size_t>(r)] += layerAlbedo(cosine, static_cast<float>(r) / (kRoughnesses - 1)) * (2 * cosine / kSteps);
        }
    }
}

ThinFilm::Curve ThinFilm::curveOver(Rgb headOn) const
{
    static const Weights weights;
    Curve curve(kCurve);
    const float reflected[3] = {headOn.x, headOn.y, headOn.z};
    double bases[3];
    for (int c = 0; c < 3; ++c) {
        const double r = std::sqrt(std::clamp(static_cast<double>(reflected[c]), 0.0, kMostHeadOn));
        bases[c] = (1 + r) / (1 - r);
    }
    for (int i = 0; i < kCurve; ++i) {
        const double cosine = static_cast<double>(i) / (kCurve - 1);
        double seen[3] = {};
        for (int w = 0; w < picture::kCieRows; ++w)
            for (int c = 0; c < 3; ++c)
                seen[c] +=
                    weights.of[w][c] * filmReflectance(cosine, static_cast<double>(m_stack.index), static_cast<double>(m_stack.thicknessNm),
                                                       bases[c], static_cast<double>(picture::cieWavelength(w)));
        const auto held = [](double v) { return static_cast<float>(std::clamp(v, 0.0, 1.0)); };
        curve[static_cast<std::size_t>(i)] = {held(seen[0]), held(seen[1]), held(seen[2])};
    }
    return curve;
}

Rgb ThinFilm::lookUp(const Curve& curve, float cosine)
{
    const float x = std::clamp(cosine, 0.0f, 1.0f) * (kCurve - 1);
    const auto below = static_cast<std::size_t>(std::min(static_cast<int>(x), kCurve - 2));
    return lerp(curve[below], curve[below + 1], x - static_cast<float>(below));
}

Rgb ThinFilm::layerAlbedo(float cosine, float roughness) const
{
    const float x = std::sqrt(std::clamp(cosine, 0.0f, 1.0f)) * (kCosines - 1), y = std::clamp(roughness, 0.0f, 1.0f) * (kRoughnesses - 1);
    const int i = std::min(static_cast<int>(x), kCosines - 2), j = std::min(static_cast<int>(y), kRoughnesses - 2);
    const auto row = [&](int at) {
        const auto from = static_cast<std::size_t>(at * kCosines + i);
        return lerp(m_albedo[from], m_albedo[from + 1], x - static_cast<float>(i));
    };
    return lerp(row(j), row(j + 1), y - static_cast<float>(j));
}

Rgb ThinFilm::layerMean(float roughness) const
{
    const float y = std::clamp(roughness, 0.0f, 1.0f) * (kRoughnesses - 1);
    const auto j = static_cast<std::size_t>(std::min(static_cast<int>(y), kRoughnesses - 2));
    return lerp(m_mean[j], m_mean[j + 1], y - static_cast<float>(j));
}

std::shared_ptr<const ThinFilm> thinFilm(const ThinFilm::Stack& stack)
{
    static base::Shared<ThinFilm, ThinFilm::Stack> films;
    return films.of(stack);
}

}  // namespace surface
