#include "solid/profile.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace solid {

namespace {

constexpr double kStraight = 1e-6;  // shorter handles are none
constexpr int kMostSteps = 64;

class Reader {
public:
    explicit Reader(std::string_view text) : m_text(text) {}

    base::Result<std::vector<ProfileNode>> nodes()
    {
        std::vector<ProfileNode> list;
        char command = 0;
        for (skip(); m_at < m_text.size(); skip()) {
            if (std::isalpha(static_cast<unsigned char>(m_text[m_at])))
                command = m_text[m_at++];
            else if (command == 'M')
                command = 'L';  // as the standard has it
            if ((command == 'M') != list.empty() || (command != 'M' && command != 'L' && command != 'C'))
                return fail(list.empty() ? "it begins with M and a point" : "only L and C follow, with absolute numbers");
            std::array<double, 6> n{};
            const std::size_t count = command == 'C' ? 6 : 2;
            for (std::size_t i = 0; i < count; ++i)
                if (!number(n[i]))
                    return fail(fmt::format("{} needs {} numbers", command, count));
            if (command == 'C') {
                list.back().after = Vec2{n[0], n[1]} - list.back().p;
                list.push_back({{n[4], n[5]}, Vec2{n[2] - n[4], n[3] - n[5]}, {}});
            } else {
                list.push_back({{n[0], n[1]}, {}, {}});
            }
            if (list.size() > kMostProfileNodes)
                return fail(fmt::format("{} points are the most", kMostProfileNodes));
        }
        if (list.size() < 2)
            return fail("it needs two points at least");
        std::vector<ProfileNode> tidied = list;
        tidy(tidied);
        for (std::size_t i = 0; i < list.size(); ++i)
            if (length(tidied[i].p - list[i].p) > 1e-3)
                return fail(
                    fmt::format("point {} must lie between 0 and 1 and not left of the one before; the first has x 0, the last 1", i + 1));
        return tidied;
    }

private:
    void skip()
    {
        while (m_at < m_text.size() && (std::isspace(static_cast<unsigned char>(m_text[m_at])) || m_text[m_at] == ','))
            ++m_at;
    }

    bool number(double& value)
    {
        skip();
        const char *begin = m_text.data() + m_at, *end = m_text.data() + m_text.size();
        const auto [after, error] = std::from_chars(begin, end, value);
        m_at += static_cast<std::size_t>(after - begin);
        return error == std::errc() && std::isfinite(value);
    }

    tl::unexpected<base::Error> fail(const std::string& what) const
    {
        return base::fail(base::ErrorCode::BadInput, fmt::format("This profile cannot be read at character {}: {}", m_at + 1, what));
    }

    std::string_view m_text;
    std::size_t m_at = 0;
};

Vec2 unit(Vec2 v)
{
    const double size = length(v);
    return size > 0 ? v * (1 / size) : Vec2{1, 0};
}

bool isCurve(const ProfileNode& a, const ProfileNode& b)
{
    return length(a.after) > kStraight || length(b.before) > kStraight;
}

}  // namespace

base::Result<std::vector<ProfileNode>> readProfile(std::string_view path)
{
    return Reader(path).nodes();
}

std::string writeProfile(const std::vector<ProfileNode>& nodes)
{
    std::string path;
    const auto add = [&](Vec2 p) { path += fmt::format("{:.4g} {:.4g}", p.x + 0.0, p.y + 0.0); };
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        if (i > 0 && isCurve(nodes[i - 1], nodes[i])) {
            path += " C";
            add(nodes[i - 1].p + nodes[i - 1].after);
            path += ' ';
            add(nodes[i].p + nodes[i].before);
            path += ' ';
        } else {
            path += i == 0 ? "M" : " L";
        }
        add(nodes[i].p);
    }
    return path;
}

std::string asDrawn(Profile profile, int steps)
{
    switch (profile) {
    case Profile::Chamfer:
        return "M0 0 L1 1";
    case Profile::Roundover:
        return "M0 0 C0 0.5523 0.4477 1 1 1";
    case Profile::Cove:
        return "M0 0 C0.5523 0 1 0.4477 1 1";
    case Profile::Ogee:
        return "M0 0 C0 0.2761 0.2239 0.5 0.5 0.5 C0.7761 0.5 1 0.7239 1 1";
    case Profile::Drawn:
        return kBead;
    case Profile::Terraces:
        break;
    }
    const int count = std::clamp(steps, 1, static_cast<int>(kMostProfileNodes) / 2 - 1);
    std::vector<ProfileNode> nodes{{}};
    for (int i = 1; i <= count; ++i)
        for (const int k : {i - 1, i})
            nodes.push_back({{double(i) / count, double(k) / count}, {}, {}});
    return writeProfile(nodes);
}

void tidy(std::vector<ProfileNode>& nodes)
{
    if (nodes.empty())
        return;
    double last = 0;
    for (ProfileNode& n : nodes) {
        n.p = {std::clamp(n.p.x, last, 1.0), std::clamp(n.p.y, 0.0, 1.0)};
        last = n.p.x;
    }
    nodes.front().p.x = 0;
    nodes.back().p.x = 1;
    // A cubic whose inner control points lie between its ends never goes back: its slope is at least 3 (1 - 2t)^2 of the span.
    const auto within = [](const ProfileNode& n, Vec2& handle, double way, double span) {
        handle.x = way * std::max(0.0, way * handle.x);
        // Shortened, so that it keeps its direction.
        const double room = handle.y > 0 ? 1 - n.p.y : n.p.y;
        double share = 1;
        if (std::abs(handle.x) > span)
            share = span / std::abs(handle.x);
        if (std::abs(handle.y) > room)
            share = std::min(share, room / std::abs(handle.y));
        handle = handle * share;
    };
    for (std::size_t i = 0; i + 1 < nodes.size(); ++i) {
        ProfileNode &a = nodes[i], &b = nodes[i + 1];
        within(a, a.after, 1, b.p.x - a.p.x);
        within(b, b.before, -1, b.p.x - a.p.x);
    }
    nodes.front().before = nodes.back().after = {};
}

std::vector<ProfilePlace> flattened(const std::vector<ProfileNode>& nodes, int steps, double tolerance, Vec2 size)
{
    std::vector<ProfilePlace> places;
    const auto add = [&](Vec2 p, Vec2 before, Vec2 after) {
        if (!places.empty() && length(places.back().p - p) < kStraight)
            places.back().after = after;
        else
            places.push_back({p, before, after});
    };
    for (std::size_t i = 0; i + 1 < nodes.size(); ++i) {
        const ProfileNode &a = nodes[i], &b = nodes[i + 1];
        const Vec2 p0 = a.p, p3 = b.p;
        if (!isCurve(a, b)) {
            const Vec2 way = unit(p3 - p0);
            add(p0, way, way);
            add(p3, way, way);
            continue;
        }
        const Vec2 p1 = p0 + a.after, p2 = p3 + b.before;
        int count = std::clamp(steps, 1, kMostSteps);
        if (steps <= 0) {
            // A cubic is within (sqrt(3) / 18) |second differences| / n^2 of n chords of equal parameter.
            const auto scaled = [&](Vec2 v) { return Vec2{v.x * size.x, v.y * size.y}; };
            const double bow = std::max(length(scaled(p0 - p1 * 2 + p2)), length(scaled(p1 - p2 * 2 + p3))) * 6;
            count = std::clamp(static_cast<int>(std::ceil(std::sqrt(bow / (8 * std::max(tolerance, 1e-9))))), 4, kMostSteps);
        }
        const auto at = [&](double t) {
            const double s = 1 - t;
            return p0 * (s * s * s) + p1 * (3 * s * s * t) + p2 * (3 * s * t * t) + p3 * (t * t * t);
        };
        const auto slope = [&](double t) {
            const double s = 1 - t;
            Vec2 d = (p1 - p0) * (s * s) + (p2 - p1) * (2 * s * t) + (p3 - p2) * (t * t);
            if (length(d) < kStraight)
                d = t < 0.5 ? p2 - p0 : p3 - p1;
            return unit(d);
        };
        for (int k = 0; k <= count; ++k) {
            const double t = double(k) / count;
            add(k == count ? p3 : at(t), slope(t), slope(t));
        }
    }
    return places;
}

}  // namespace solid
