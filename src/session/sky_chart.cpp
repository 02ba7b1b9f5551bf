#include "session/sky_chart.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"

namespace session {

namespace {

constexpr double kLeastWidth = 0.2, kMostWidth = 170;  // degrees

// Between what a card says and the world: all surroundings are turned, then tilted.
class Stand {
public:
    explicit Stand(const work::Surroundings& s)
        : m_turn{std::cos(base::radians(s.turn)), std::sin(base::radians(s.turn))},
          m_tilt{std::cos(base::radians(s.tilt)), std::sin(base::radians(s.tilt))}
    {
    }
    Vec3 toWorld(Vec3 d) const
    {
        const double x = d.x * m_turn.x + d.z * m_turn.y, z = d.z * m_turn.x - d.x * m_turn.y;
        return {x, d.y * m_tilt.x - z * m_tilt.y, z * m_tilt.x + d.y * m_tilt.y};
    }
    Vec3 fromWorld(Vec3 w) const
    {
        const double y = w.y * m_tilt.x + w.z * m_tilt.y, z = w.z * m_tilt.x - w.y * m_tilt.y;
        return {w.x * m_turn.x - z * m_turn.y, y, z * m_turn.x + w.x * m_turn.y};
    }

private:
    Vec2 m_turn, m_tilt;  // cosine and sine
};

Vec3 unit(double direction, double height)
{
    const double a = base::radians(direction), h = base::radians(height);
    return {std::sin(a) * std::cos(h), std::sin(h), std::cos(a) * std::cos(h)};
}

// A card's axes as light/surroundings.cpp has them: right of it as seen from inside, and up.
struct Axes {
    Vec3 towards, right, up;
    double halfWidth, halfHeight;

    explicit Axes(const work::SkyCard& card, double roll) : towards(unit(card.direction, card.height))
    {
        const Vec3 level = cross(towards, Vec3{0, 1, 0});
        const Vec3 x = length(level) > 1e-5 ? normalized(level) : Vec3{1, 0, 0}, y = cross(x, towards);
        const double c = std::cos(base::radians(roll)), s = std::sin(base::radians(roll));
        right = x * c + y * s;
        up = y * c - x * s;
        halfWidth = std::tan(base::radians(card.width) / 2);
        halfHeight = std::tan(base::radians(card.breadth) / 2);
    }
    explicit Axes(const work::SkyCard& card) : Axes(card, card.roll) {}
    Vec3 at(double across, double upwards) const
    {
        return normalized(towards + right * (across * halfWidth) + up * (upwards * halfHeight));
    }
};

}  // namespace

ChartPlace onChart(Vec3 d)
{
    const bool behind = d.z < 0;
    const double level = std::hypot(d.x, d.y), along = std::abs(d.z);
    // sqrt(2) sin(angle / 2), by sin(angle / 2) = sqrt((1 - cos) / 2).
    const double radius = std::sqrt(std::max(0.0, 1 - along));
    return {behind, level > 1e-12 ? Vec2{d.x / level * radius, d.y / level * radius} : Vec2{}};
}

Vec3 fromChart(const ChartPlace& place)
{
    const double radius = std::min(1.0, std::hypot(place.at.x, place.at.y)), along = 1 - radius * radius;
    const double level = std::sqrt(std::max(0.0, 1 - along * along)), far = std::hypot(place.at.x, place.at.y);
    const double z = place.behind ? -along : along;
    return far > 1e-12 ? Vec3{place.at.x / far * level, place.at.y / far * level, z} : Vec3{0, 0, z};
}

Vec3 directionOf(const work::SkyCard& card, const work::Surroundings& surroundings)
{
    return Stand(surroundings).toWorld(unit(card.direction, card.height));
}

work::SkyCard cardTowards(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction)
{
    const Vec3 d = normalized(Stand(surroundings).fromWorld(direction));
    work::SkyCard result = card;
    result.height = base::degrees(std::asin(std::clamp(d.y, -1.0, 1.0)));
    if (std::abs(d.x) + std::abs(d.z) > 1e-9)
        result.direction = base::degrees(std::atan2(d.x, d.z));
    return result;
}

std::vector<Vec3> borderOf(const work::SkyCard& card, const work::Surroundings& surroundings, int count)
{
    const Axes axes(card);
    const Stand stand(surroundings);
    // A superellipse, as the light has it: |x|^p + |y|^p = 1, p = 2 / roundness; a rectangle where p is large.
    const double power = card.roundness > 0.02f ? 2 / static_cast<double>(card.roundness) : 200;
    std::vector<Vec3> border;
    for (int i = 0; i < count; ++i) {
        const double turn = 2 * base::kPi * (i + 0.5) / count, c = std::cos(turn), s = std::sin(turn);
        const double far = std::pow(std::pow(std::abs(c), power) + std::pow(std::abs(s), power), 1 / power);
        border.push_back(stand.toWorld(axes.at(c / far, s / far)));
    }
    return border;
}

Vec3 cornerOf(const work::SkyCard& card, const work::Surroundings& surroundings)
{
    return Stand(surroundings).toWorld(Axes(card).at(1, 1));
}

Vec3 topOf(const work::SkyCard& card, const work::Surroundings& surroundings)
{
    return Stand(surroundings).toWorld(Axes(card).at(0, 1));
}

bool covers(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction)
{
    const Axes axes(card);
    const Vec3 d = Stand(surroundings).fromWorld(direction);
    const double along = dot(d, axes.towards);
    return along > 1e-6 && std::abs(dot(d, axes.right)) <= axes.halfWidth * along && std::abs(dot(d, axes.up)) <= axes.halfHeight * along;
}

work::SkyCard withCornerAt(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction)
{
    const Axes axes(card);
    const Vec3 d = Stand(surroundings).fromWorld(direction);
    const double along = std::max(0.05, dot(d, axes.towards));
    const auto angle = [&](Vec3 axis) {
        return std::clamp(2 * base::degrees(std::atan(std::abs(dot(d, axis)) / along)), kLeastWidth, kMostWidth);
    };
    work::SkyCard result = card;
    result.width = angle(axes.right);
    result.breadth = angle(axes.up);
    return result;
}

work::SkyCard withTopTowards(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction)
{
    const Axes level(card, 0);
    const Vec3 d = Stand(surroundings).fromWorld(direction);
    const double across = dot(d, level.right), upwards = dot(d, level.up);
    work::SkyCard result = card;
    if (std::hypot(across, upwards) > 1e-9)
        result.roll = base::degrees(std::atan2(-across, upwards));
    return result;
}

}  // namespace session
