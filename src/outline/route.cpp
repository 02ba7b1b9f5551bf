#include "outline/route.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/units.h"

namespace outline {

namespace {

constexpr int kPieces = 64;  // of a curve

// How fast the curve runs at t.
double speedAt(const Curve& c, double t)
{
    Vec2 d[3];
    for (int i = 0; i < c.degree; ++i)
        d[i] = (c.p[i + 1] - c.p[i]) * c.degree;
    for (int k = c.degree - 1; k > 0; --k)
        for (int i = 0; i < k; ++i)
            d[i] = d[i] * (1 - t) + d[i + 1] * t;
    return length(d[0]);
}

Vec2 leftOf(Vec2 along)
{
    return {-along.y, along.x};
}

double angleBetween(Vec2 a, Vec2 b)
{
    return std::atan2(a.x * b.y - a.y * b.x, dot(a, b));
}

}  // namespace

CurveContour curvesThrough(const std::vector<LinePoint>& points, bool closed)
{
    CurveContour curves;
    const std::size_t count = closed ? points.size() : points.empty() ? 0 : points.size() - 1;
    for (std::size_t i = 0; i < count && points.size() > 1; ++i) {
        const LinePoint &a = points[i], &b = points[(i + 1) % points.size()];
        const Vec2 from{a.x, a.y}, to{b.x, b.y};
        if (a.outX == 0 && a.outY == 0 && b.inX == 0 && b.inY == 0)
            curves.push_back({1, {from, to}});
        else
            curves.push_back({3, {from, from + Vec2{a.outX, a.outY}, to + Vec2{b.inX, b.inY}, to}});
    }
    return curves;
}

Route::Route(const CurveContour& curves, bool closed) : m_closed(closed)
{
    double s = 0;
    for (const Curve& curve : curves) {
        const Vec2 first = tangentAt(curve, 0);
        if (first == Vec2{})
            continue;  // a point
        const int pieces = curve.degree == 1 ? 1 : kPieces;
        m_samples.push_back({curve.p[0], first, s});
        for (int i = 1; i <= pieces; ++i) {
            const double a = double(i - 1) / pieces, b = double(i) / pieces;
            s += (speedAt(curve, a) + 4 * speedAt(curve, (a + b) / 2) + speedAt(curve, b)) / (6 * pieces);
            m_samples.push_back({pointAt(curve, b), tangentAt(curve, b), s});
        }
    }
}

Route::Place Route::at(double s) const
{
    if (m_samples.empty())
        return {{}, {1, 0}};
    if (m_closed && length() > 0)
        s -= std::floor(s / length()) * length();
    const Sample &first = m_samples.front(), &last = m_samples.back();
    if (s <= 0)
        return {first.point + first.along * s, first.along};
    if (s >= last.s)
        return {last.point + last.along * (s - last.s), last.along};
    const auto next = std::upper_bound(m_samples.begin(), m_samples.end(), s, [](double v, const Sample& x) { return v < x.s; });
    const Sample &a = *(next - 1), &b = *next;
    const double span = b.s - a.s, t = (s - a.s) / span;
    // Hermite's cubic between the two, run at unit speed.
    const double t2 = t * t, t3 = t2 * t;
    const Vec2 point =
        a.point * (2 * t3 - 3 * t2 + 1) + a.along * (span * (t3 - 2 * t2 + t)) + b.point * (3 * t2 - 2 * t3) + b.along * (span * (t3 - t2));
    const Vec2 along = (b.point - a.point) * (6 * (t - t2) / span) + a.along * (3 * t2 - 4 * t + 1) + b.along * (3 * t2 - 2 * t);
    const double size = base::length(along);
    return {point, size > 1e-12 ? along * (1 / size) : a.along};
}

Route Route::beside(double distance) const
{
    Route result;
    result.m_closed = m_closed;
    double s = 0;
    for (std::size_t i = 0; i < m_samples.size(); ++i) {
        const Sample& x = m_samples[i];
        if (i > 0)
            s += std::max(0.0, x.s - m_samples[i - 1].s - distance * angleBetween(m_samples[i - 1].along, x.along));
        result.m_samples.push_back({x.point + leftOf(x.along) * distance, x.along, s});
    }
    return result;
}

Route Route::backwards() const
{
    Route result;
    result.m_closed = m_closed;
    for (auto x = m_samples.rbegin(); x != m_samples.rend(); ++x)
        result.m_samples.push_back({x->point, x->along * -1.0, length() - x->s});
    return result;
}

Route Route::fromBelow() const
{
    double twice = 0;
    for (std::size_t i = 0; i < m_samples.size(); ++i) {
        const Vec2 a = m_samples[i].point, b = m_samples[(i + 1) % m_samples.size()].point;
        twice += a.x * b.y - b.x * a.y;
    }
    if (twice > 0)
        return backwards().fromBelow();
    if (m_samples.empty())
        return *this;
    const double half = length() / 2;
    const auto top =
        std::max_element(m_samples.begin(), m_samples.end(), [](const auto& a, const auto& b) { return a.point.y < b.point.y; });
    // Cut where half the length is left on either side of the top.
    double cut = top->s - half;
    if (cut < 0)
        cut += length();
    const auto split = std::lower_bound(m_samples.begin(), m_samples.end(), cut, [](const Sample& x, double v) { return x.s < v; });
    Route result;
    result.m_closed = true;
    const Place seam = at(cut);
    result.m_samples.push_back({seam.point, seam.along, 0});
    for (auto x = split; x != m_samples.end(); ++x)
        result.m_samples.push_back({x->point, x->along, x->s - cut});
    for (auto x = m_samples.begin(); x != split; ++x)
        result.m_samples.push_back({x->point, x->along, x->s + length() - cut});
    result.m_samples.push_back({seam.point, seam.along, length()});
    return result;
}

CurveContour ellipseArc(Vec2 middle, double radiusX, double radiusY, double fromDegrees, double toDegrees)
{
    const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(toDegrees - fromDegrees) / 15)));
    const double step = base::radians(toDegrees - fromDegrees) / pieces;
    const double handle = 4.0 / 3 * std::tan(step / 4);
    CurveContour curves;
    for (int i = 0; i < pieces; ++i) {
        const double a = base::radians(fromDegrees) + i * step, b = a + step;
        const auto on = [&](double x, double y) { return middle + Vec2{radiusX * x, radiusY * y}; };
        curves.push_back({3,
                          {on(std::cos(a), std::sin(a)), on(std::cos(a) - handle * std::sin(a), std::sin(a) + handle * std::cos(a)),
                           on(std::cos(b) + handle * std::sin(b), std::sin(b) - handle * std::cos(b)), on(std::cos(b), std::sin(b))}});
    }
    return curves;
}

CurveContour spiral(double innerRadius, double outerRadius, double turns)
{
    constexpr double kStep = 15;  // degrees
    const int pieces = std::max(1, static_cast<int>(std::ceil(turns * 360 / kStep)));
    const double sweep = turns * 2 * std::numbers::pi, step = sweep / pieces, growth = (outerRadius - innerRadius) / sweep;
    // r grows with the angle a that is run; it ends at the top.
    const auto at = [&](double a) {
        const double angle = std::numbers::pi / 2 + sweep - a;
        return Vec2{std::cos(angle), std::sin(angle)} * (innerRadius + growth * a);
    };
    const auto slope = [&](double a) {
        const double angle = std::numbers::pi / 2 + sweep - a, r = innerRadius + growth * a;
        return Vec2{growth * std::cos(angle) + r * std::sin(angle), growth * std::sin(angle) - r * std::cos(angle)};
    };
    CurveContour curves;
    for (int i = 0; i < pieces; ++i) {
        const double a = i * step, b = a + step;
        curves.push_back({3, {at(a), at(a) + slope(a) * (step / 3), at(b) - slope(b) * (step / 3), at(b)}});
    }
    return curves;
}

void setAlong(Layout& layout, const Route& route, const AlongSettings& settings)
{
    const double whole = route.length();
    const double foot = settings.under ? layout.baselines.front() + settings.capHeight : layout.baselines.back();
    for (std::size_t line = 0; line < layout.baselines.size(); ++line) {
        const double baseline = layout.baselines[line], off = baseline - foot;
        const Route own = off == 0 ? route : route.beside(off);
        std::vector<PlacedGlyph*> glyphs;
        int letters = 0;
        double left = 1e300, right = -1e300;
        for (PlacedGlyph& g : layout.glyphs)
            if (g.line == static_cast<int>(line)) {
                letters += glyphs.empty() || glyphs.back()->letter != g.letter;
                glyphs.push_back(&g);
                left = std::min(left, g.middle - g.advance / 2);
                right = std::max(right, g.middle + g.advance / 2);
            }
        if (glyphs.empty())
            continue;
        const double width = right - left, length = own.length();
        // Where the alignment has its anchor, and what is to be put between letters.
        const double place = left < -0.75 * width ? 1 : left > -0.25 * width ? 0 : 0.5;
        const int gaps = letters - (route.isClosed() ? 0 : 1);
        const double extra = settings.fill && gaps > 0 ? (length - width) / gaps : 0;
        if (!route.isClosed() && !settings.fill && width > length * (1 + 1e-9))
            layout.notes.push_back({"too-long",
                                    "The text is longer than its line and runs straight on; make the line longer, or the type smaller",
                                    fmt::format("letter {}", glyphs.back()->letter + 1)});
        int at = 0;
        for (std::size_t i = 0; i < glyphs.size(); ++i) {
            PlacedGlyph& g = *glyphs[i];
            at += i > 0 && glyphs[i - 1]->letter != g.letter;
            const double s =
                place * length + settings.start * (whole > 0 ? length / whole : 0) + g.middle + extra * (at - place * (letters - 1));
            const Route::Place there = own.at(s);
            const Vec2 arm{g.origin.x - g.middle, g.origin.y - baseline};
            if (settings.upright) {
                g.origin = there.point + arm;
            } else {
                g.turn = std::atan2(there.along.y, there.along.x);
                g.origin = there.point + there.along * arm.x + leftOf(there.along) * arm.y;
            }
        }
    }
}

}  // namespace outline
