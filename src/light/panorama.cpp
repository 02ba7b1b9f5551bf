#include "light/panorama.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/parallel.h"

namespace light {

namespace {

// Squares of pixels become their mean by solid angle.
Panorama halved(const Panorama& from)
{
    Panorama to(std::max(2, from.width / 2), std::max(1, from.height / 2));
    base::parallelFor(static_cast<std::size_t>(to.height), [&](std::size_t row) {
        const int y = static_cast<int>(row), lower = std::min(2 * y + 1, from.height - 1);
        const auto upper = static_cast<float>(from.solidAngleOf(2 * y)), under = static_cast<float>(from.solidAngleOf(lower));
        for (int x = 0; x < to.width; ++x) {
            const int right = std::min(2 * x + 1, from.width - 1);
            to.pixel(x, y) = ((from.pixel(2 * x, 2 * y) + from.pixel(right, 2 * y)) * upper +
                              (from.pixel(2 * x, lower) + from.pixel(right, lower)) * under) *
                             (0.5f / (upper + under));
        }
    });
    return to;
}

}  // namespace

Vec3f Panorama::directionAt(double x, double y) const
{
    const double longitude = (x / width - 0.5) * 2 * std::numbers::pi, colatitude = y / height * std::numbers::pi;
    const double s = std::sin(colatitude);
    return {static_cast<float>(s * std::sin(longitude)), static_cast<float>(std::cos(colatitude)),
            static_cast<float>(s * std::cos(longitude))};
}

double Panorama::solidAngleOf(int row) const
{
    return 2 * std::numbers::pi / width * (std::cos(std::numbers::pi * row / height) - std::cos(std::numbers::pi * (row + 1) / height));
}

base::Vec2 Panorama::placeOf(Vec3f d) const
{
    constexpr float kPi = std::numbers::pi_v<float>;
    const float longitude = std::atan2(d.x, d.z), colatitude = std::acos(std::clamp(d.y, -1.0f, 1.0f));
    return {static_cast<double>(longitude / (2 * kPi) + 0.5f) * width - 0.5, static_cast<double>(colatitude / kPi) * height - 0.5};
}

Rgb Panorama::at(base::Vec2 place) const
{
    const double left = std::floor(place.x), top = std::floor(place.y);
    const int column = static_cast<int>(left), row = static_cast<int>(top);
    const auto from = [&](int r, int c) -> const Rgb& { return pixel((c + width) % width, std::clamp(r, 0, height - 1)); };
    const auto fx = static_cast<float>(place.x - left), fy = static_cast<float>(place.y - top);
    return lerp(lerp(from(row, column), from(row, column + 1), fx), lerp(from(row + 1, column), from(row + 1, column + 1), fx), fy);
}

Panorama blurred(const Panorama& sharp, double radius)
{
    constexpr double kAcross = 12;  // px of the radius, at most
    radius = std::clamp(radius, 0.0, std::numbers::pi / 2);
    Panorama from = sharp;
    while (from.width >= 32 && radius / std::numbers::pi * from.height > kAcross)
        from = halved(from);
    if (radius / std::numbers::pi * from.height < 0.5)
        return from;
    Panorama to(from.width, from.height);
    const auto cosine = static_cast<float>(std::cos(radius));
    base::parallelFor(static_cast<std::size_t>(to.height), [&](std::size_t line) {
        const int y = static_cast<int>(line);
        const double colatitude = (y + 0.5) / from.height * std::numbers::pi;
        const int first = std::max(0, static_cast<int>(std::floor((colatitude - radius) / std::numbers::pi * from.height))),
                  last = std::min(from.height - 1, static_cast<int>(std::ceil((colatitude + radius) / std::numbers::pi * from.height)));
        // The same for every place in the row.
        struct Share {
            int row, across;
            float weight;
        };
        std::vector<Share> shares;
        const Vec3f middle = from.directionAt(0.5, y + 0.5);
        double whole = 0;
        for (int row = first; row <= last; ++row)
            for (int across = 0; across < from.width; ++across)
                if (const float along = dot(middle, from.directionAt(across + 0.5, row + 0.5)); along > cosine) {
                    const double off = std::acos(std::min(1.0, static_cast<double>(along))) / radius, inner = 1 - off * off;
                    shares.push_back({row, across, static_cast<float>(inner * inner * from.solidAngleOf(row))});
                    whole += static_cast<double>(shares.back().weight);
                }
        for (int x = 0; x < to.width; ++x) {
            Rgb sum;
            for (const Share& share : shares)
                sum += from.pixel((x + share.across) % from.width, share.row) * share.weight;
            to.pixel(x, y) = whole > 0 ? sum * static_cast<float>(1 / whole) : from.pixel(x, y);
        }
    });
    return to;
}

}  // namespace light
