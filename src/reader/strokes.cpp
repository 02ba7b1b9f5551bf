#include "reader/strokes.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"

namespace reader {

namespace {

constexpr double kMostTurn = base::kPi / 45;
constexpr std::size_t kMostDashes = 200'000;

double turnOf(const outline::Curve& curve)
{
    double turn = 0;
    Vec2 last = tangentAt(curve, 0);
    for (int i = 1; i <= 16; ++i) {
        const Vec2 now = tangentAt(curve, i / 16.0);
        turn += std::abs(std::atan2(cross(last, now), dot(last, now)));
        last = now;
    }
    return turn;
}

// Anticlockwise, so that all parts of a stroke add up.
void add(std::vector<Polygon>& out, Polygon polygon)
{
    double area = 0;
    for (std::size_t i = 0; i < polygon.size(); ++i)
        area += cross(polygon[i], polygon[(i + 1) % polygon.size()]);
    if (area < 0)
        std::reverse(polygon.begin(), polygon.end());
    if (area != 0)
        out.push_back(std::move(polygon));
}

class Stroker {
public:
    Stroker(const StrokeStyle& style, double tolerance, std::vector<Polygon>& out) : m_style(style), m_half(style.width / 2), m_out(out)
    {
        const double step = 2 * std::acos(std::clamp(1 - tolerance / std::max(m_half, tolerance), 0.0, 1.0));
        m_steps = std::clamp(static_cast<int>(std::ceil(2 * base::kPi / std::min(step, kMostTurn))), 8, 180);
    }

    void stroke(const Polyline& line)
    {
        Polygon points;
        for (const Vec2 p : line.points)
            if (points.empty() || !(points.back() == p))
                points.push_back(p);
        if (line.closed && points.size() > 1 && points.front() == points.back())
            points.pop_back();
        if (points.size() < 2) {
            if (!points.empty())
                dot(points.front());
            return;
        }
        const std::size_t count = points.size(), segments = line.closed ? count : count - 1;
        for (std::size_t i = 0; i < segments; ++i)
            segment(points[i], points[(i + 1) % count]);
        for (std::size_t i = line.closed ? 0 : 1; i < (line.closed ? count : count - 1); ++i)
            join(points[(i + count - 1) % count], points[i], points[(i + 1) % count]);
        if (!line.closed) {
            cap(points[1], points[0]);
            cap(points[count - 2], points[count - 1]);
        }
    }

private:
    static Vec2 side(Vec2 a, Vec2 b)
    {
        const Vec2 d = normalized(b - a);
        return {-d.y, d.x};
    }
    void segment(Vec2 a, Vec2 b)
    {
        const Vec2 n = side(a, b) * m_half;
        add(m_out, {a + n, b + n, b - n, a - n});
    }
    void circle(Vec2 middle)
    {
        Polygon round;
        for (int i = 0; i < m_steps; ++i) {
            const double angle = 2 * base::kPi * i / m_steps;
            round.push_back(middle + Vec2{std::cos(angle), std::sin(angle)} * m_half);
        }
        add(m_out, std::move(round));
    }
    // A subpath without length (SVG 1.1, 11.4): seen with round and square caps only.
    void dot(Vec2 at)
    {
        if (m_style.cap == StrokeStyle::Cap::Round)
            circle(at);
        else if (m_style.cap == StrokeStyle::Cap::Square)
            add(m_out, {at + Vec2{-m_half, -m_half}, at + Vec2{m_half, -m_half}, at + Vec2{m_half, m_half}, at + Vec2{-m_half, m_half}});
    }
    void cap(Vec2 from, Vec2 end)
    {
        if (m_style.cap == StrokeStyle::Cap::Round)
            circle(end);
        else if (m_style.cap == StrokeStyle::Cap::Square)
            segment(end, end + normalized(end - from) * m_half);
    }
    void join(Vec2 a, Vec2 b, Vec2 c)
    {
        const Vec2 in = normalized(b - a), out = normalized(c - b);
        const double turn = std::atan2(base::cross(in, out), base::dot(in, out));
        if (std::abs(turn) < 1e-6)
            return;
        if (m_style.join == StrokeStyle::Join::Round && std::abs(turn) > kMostTurn) {
            circle(b);
            return;
        }
        const double outer = turn > 0 ? -m_half : m_half;  // on the outside of the turn
        const Vec2 p = b + side(a, b) * outer, q = b + side(b, c) * outer, way = normalized((p - b) + (q - b));
        // SVG 1.1: miter length / width = 1 / sin(inner angle / 2), beyond the limit it is a bevel.
        const double sine = std::cos(std::abs(turn) / 2);
        const bool miter = m_style.join == StrokeStyle::Join::Miter || std::abs(turn) <= kMostTurn;
        // It reaches into both segments, or rounding would leave hairlines between them.
        const Vec2 before = p - in * std::min(m_half / 8, length(b - a)), after = q + out * std::min(m_half / 8, length(c - b));
        const Vec2 inner = b - way * (m_half / 2);
        if (miter && sine > 1e-9 && 1 / sine <= std::max(1.0, m_style.miterLimit))
            add(m_out, {inner, before, p, b + way * (m_half / sine), q, after});
        else
            add(m_out, {inner, before, p, q, after});
    }

    const StrokeStyle& m_style;
    double m_half;
    std::vector<Polygon>& m_out;
    int m_steps = 16;
};

// SVG 1.1, 11.4: an odd list counts twice; each subpath begins anew.
std::vector<Polyline> dashed(const Polyline& line, const StrokeStyle& style)
{
    std::vector<double> dashes = style.dashes;
    if (dashes.size() % 2)
        dashes.insert(dashes.end(), style.dashes.begin(), style.dashes.end());
    double sum = 0;
    for (const double d : dashes)
        sum += d;
    if (!(sum > 0) || std::any_of(dashes.begin(), dashes.end(), [](double d) { return d < 0; }))
        return {line};
    Polygon points = line.points;
    if (line.closed)
        points.push_back(points.front());
    double offset = std::fmod(style.dashOffset, sum);
    if (offset < 0)
        offset += sum;
    std::size_t dash = 0;
    while (offset >= dashes[dash] && offset > 0) {
        offset -= dashes[dash];
        dash = (dash + 1) % dashes.size();
    }
    double left = dashes[dash] - offset;
    std::vector<Polyline> out;
    Polyline current;
    if (dash % 2 == 0)
        current.points.push_back(points.front());
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
        const double length = base::length(points[i + 1] - points[i]);
        double at = 0;
        while (length - at > left) {
            at += left;
            const Vec2 p = lerp(points[i], points[i + 1], at / length);
            if (dash % 2 == 0) {
                current.points.push_back(p);
                out.push_back(std::move(current));
                current = {};
                if (out.size() > kMostDashes)
                    return {line};
            } else {
                current.points = {p};
            }
            dash = (dash + 1) % dashes.size();
            left = dashes[dash];
        }
        left -= length - at;
        if (dash % 2 == 0)
            current.points.push_back(points[i + 1]);
    }
    if (current.points.size() > 1)
        out.push_back(std::move(current));
    return out;
}

}  // namespace

std::vector<Polyline> polylinesOf(const Path& path, double tolerance)
{
    std::vector<Polyline> lines;
    for (const Subpath& sub : path) {
        Polyline line;
        line.closed = sub.closed;
        line.points.push_back(sub.curves.empty() ? sub.start : sub.curves.front().p[0]);
        for (const outline::Curve& curve : sub.curves) {
            if (curve.degree == 1) {
                line.points.push_back(curve.p[1]);
                continue;
            }
            std::vector<outline::FlatEdge> flat;
            flatten(curve, tolerance, flat);
            const auto steps =
                std::clamp<std::size_t>(std::max(flat.size(), static_cast<std::size_t>(std::ceil(turnOf(curve) / kMostTurn))), 1, 400);
            for (std::size_t i = 1; i <= steps; ++i)
                line.points.push_back(i == steps ? curve.p[curve.degree]
                                                 : pointAt(curve, static_cast<double>(i) / static_cast<double>(steps)));
        }
        lines.push_back(std::move(line));
    }
    return lines;
}

std::vector<Polygon> strokeOf(const Path& path, const StrokeStyle& style, double tolerance)
{
    std::vector<Polygon> out;
    if (!(style.width > 0))
        return out;
    Stroker stroker(style, tolerance, out);
    for (const Polyline& line : polylinesOf(path, tolerance))
        for (const Polyline& dash : style.dashes.empty() ? std::vector{line} : dashed(line, style))
            stroker.stroke(dash);
    return out;
}

}  // namespace reader
