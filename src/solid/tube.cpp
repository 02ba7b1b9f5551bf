#include "solid/tube.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/units.h"
#include "solid/centre_line.h"
#include "solid/rim.h"

namespace solid {

namespace {

constexpr int kLeastAround = 8, kMostAround = 96;
constexpr double kLeastStep = 0.04, kMostStep = 0.3;  // along a line, in widths
constexpr double kBendWidth = 0.45;                   // of corners made round, in widths
constexpr double kSharp = 20;                         // degrees a line may turn over a width and still be taken as it is
constexpr std::size_t kMostRings = 20000;
constexpr double kOver = 1.05;              // height of a line that goes over another, in heights of the one below
constexpr double kRamp = 3, kMostRamp = 8;  // from there down to the plane where they cross squarely, and at most, in widths

struct WayPoint : CentreLine::Point {
    double up = 0;  // over the plane the line lies in
};
// A line.
struct Way {
    // Where it goes over another: so far along it, and as far before and behind it begins to.
    struct Over {
        double at = 0, ramp = 1;
    };
    std::vector<WayPoint> points;
    bool closed = false;
    std::vector<Over> overs;
};

double lengthOf(const std::vector<WayPoint>& points, bool closed)
{
    double sum = 0;
    for (std::size_t i = 0; i + (closed ? 0 : 1) < points.size(); ++i)
        sum += length(points[(i + 1) % points.size()].p - points[i].p);
    return sum;
}

// Share of the height of going over that it has there.
double overAt(const Way& way, double along, double whole)
{
    double most = 0;
    for (const Way::Over& over : way.overs) {
        double off = std::abs(along - over.at);
        if (way.closed)
            off = std::min(off, whole - off);
        if (off < over.ramp)
            most = std::max(most, (1 + std::cos(base::kPi * off / over.ramp)) / 2);
    }
    return most;
}

// The same with points at even steps, those of places where it goes over another at `height`.
Way resampled(const Way& way, double step, double height)
{
    const double whole = lengthOf(way.points, way.closed);
    const std::size_t least = way.closed ? 8 : 1;
    const std::size_t parts = std::clamp(static_cast<std::size_t>(std::ceil(whole / step)), least, kMostRings);
    Way result{{}, way.closed, {}};
    const std::size_t n = way.points.size();
    double passed = 0;
    std::size_t i = 0;
    for (std::size_t k = 0; k < parts + (way.closed ? 0 : 1); ++k) {
        const double at = whole * static_cast<double>(k) / static_cast<double>(parts);
        while (i + 1 < (way.closed ? n : n - 1) && passed + length(way.points[(i + 1) % n].p - way.points[i].p) < at) {
            passed += length(way.points[(i + 1) % n].p - way.points[i].p);
            ++i;
        }
        const WayPoint &a = way.points[i], &b = way.points[(i + 1) % n];
        const double part = length(b.p - a.p), f = part > 0 ? std::clamp((at - passed) / part, 0.0, 1.0) : 0;
        result.points.push_back({{lerp(a.p, b.p, f), a.distance + (b.distance - a.distance) * f, f < 0.5 ? a.letter : b.letter},
                                 height * overAt(way, at, whole)});
    }
    return result;
}

// Corners become round, the rest stays: steps back and forth that leave slow turns as they are (G. Taubin, A signal processing approach to
// fair surface design, SIGGRAPH 1995).
void smooth(Way& way, double step, double radius)
{
    const auto n = static_cast<std::ptrdiff_t>(way.points.size());
    if (n < 4)
        return;
    const int rounds = std::clamp(static_cast<int>(std::ceil(radius * radius / (step * step))), 1, 400);
    std::vector<Vec2> next(way.points.size());
    for (int round = 0; round < rounds; ++round)
        for (const double share : {0.5, -0.51}) {
            for (std::ptrdiff_t i = 0; i < n; ++i) {
                const auto at = static_cast<std::size_t>(i);
                next[at] = way.points[at].p;
                if (!way.closed && (i == 0 || i + 1 == n))
                    continue;
                const Vec2 middle =
                    (way.points[static_cast<std::size_t>((i + n - 1) % n)].p + way.points[static_cast<std::size_t>((i + 1) % n)].p) * 0.5;
                next[at] = next[at] + (middle - next[at]) * share;
            }
            for (std::size_t i = 0; i < next.size(); ++i)
                way.points[i].p = next[i];
        }
}

// The sharpest turn over a width, degrees.
double sharpestTurn(const Way& way, double step, double width)
{
    const auto n = way.points.size();
    const auto reach = std::max<std::size_t>(1, static_cast<std::size_t>(width / 2 / step));
    double most = 0;
    for (std::size_t i = 0; i < n; ++i) {
        if (!way.closed && (i < reach || i + reach >= n))
            continue;
        const Vec2 a = way.points[i].p - way.points[(i + n - reach) % n].p, b = way.points[(i + reach) % n].p - way.points[i].p;
        most = std::max(most, std::abs(base::degrees(std::atan2(cross(a, b), dot(a, b)))));
    }
    return most;
}

// Cuts so much off an end, or draws it out where it is less than 0.
void shorten(Way& way, bool atEnd, double by)
{
    auto& points = way.points;
    if (points.size() < 2 || by == 0)
        return;
    if (!atEnd)
        for (Way::Over& over : way.overs)
            over.at -= by;
    if (atEnd)
        std::reverse(points.begin(), points.end());
    if (by < 0) {
        const Vec2 out = normalized(points[0].p - points[1].p);
        WayPoint end = points.front();
        end.p = end.p + out * -by;
        points.insert(points.begin(), end);
    } else {
        while (points.size() > 2 && length(points[1].p - points[0].p) <= by) {
            by -= length(points[1].p - points[0].p);
            points.erase(points.begin());
        }
        const double part = length(points[1].p - points[0].p);
        points[0].p = lerp(points[0].p, points[1].p, std::min(0.9, by / std::max(1e-12, part)));
    }
    if (atEnd)
        std::reverse(points.begin(), points.end());
}

// A place of a cross-section: across the line and up, with the normal there.
struct SectionPoint {
    Vec2 at, normal;
};

class Section {
public:
    Section(const TubeForm& form, double tolerancePt)
        : m_form(form), m_width(form.widthPt / 2), m_height((form.heightPt > 0 ? form.heightPt : form.widthPt) / 2)
    {
        if (form.section == TubeSection::Ribbon) {
            m_around = 8;
            return;
        }
        const double radius = std::max(m_width, m_height);
        m_around = std::clamp(static_cast<int>(std::ceil(base::kPi / std::acos(1 - std::min(0.5, 2 * tolerancePt / radius)))), kLeastAround,
                              kMostAround);
        if (form.section == TubeSection::Rope) {
            m_around = std::max(m_around, 8 * form.strands);
            m_around -= m_around % form.strands;
        }
    }

    int around() const { return m_around; }
    // Ribbons have two places at each corner, one for each of its faces.
    bool isJoint(int i) const { return m_form.section == TubeSection::Ribbon && i % 2 == 0; }
    double height() const { return m_height; }
    double halfWidth() const { return m_width; }

    SectionPoint at(int i, double along) const
    {
        if (m_form.section == TubeSection::Ribbon) {
            static constexpr double kX[] = {1, 1, -1, -1}, kY[] = {-1, 1, 1, -1};
            // Place 2k is where face k - 1 ends, place 2k + 1 where face k begins; both are corner k.
            const int corner = (i / 2) % 4, face = i % 2 == 1 ? corner : (corner + 3) % 4;
            static constexpr double kNX[] = {1, 0, -1, 0}, kNY[] = {0, 1, 0, -1};
            return {{kX[corner] * m_width, kY[corner] * m_height}, {kNX[face], kNY[face]}};
        }
        const double angle = 2 * base::kPi * i / m_around;
        const Vec2 direction{std::cos(angle), std::sin(angle)};
        if (m_form.section == TubeSection::Round)
            return {{direction.x * m_width, direction.y * m_height}, normalized(Vec2{direction.x / m_width, direction.y / m_height})};
        // Strands: circles that touch each other, turning along the way.
        const int k = m_form.strands;
        const double ratio = 1 / (1 + 1 / std::sin(base::kPi / std::max(2, k)));  // of a strand's radius to the whole
        const double b = 1 - ratio, sector = 2 * base::kPi / k;
        double off = std::fmod(angle - 2 * base::kPi * along / std::max(1e-6, m_form.layPt), sector);
        if (off < 0)
            off += sector;
        off -= sector / 2;
        const double root = std::sqrt(std::max(0.0, ratio * ratio - b * b * std::sin(off) * std::sin(off)));
        const double radius = b * std::cos(off) + root;
        const Vec2 centre{b * std::cos(angle - off), b * std::sin(angle - off)};
        const Vec2 normal = direction * radius - centre;
        return {{direction.x * radius * m_width, direction.y * radius * m_height},
                normalized(Vec2{normal.x / m_width, normal.y / m_height})};
    }

private:
    const TubeForm& m_form;
    double m_width, m_height;
    int m_around = 8;
};

class TubeBuilder {
public:
    TubeBuilder(const TubeForm& form, double tolerancePt) : m_form(form), m_section(form, tolerancePt), m_tolerance(tolerancePt) {}

    void add(Way way)
    {
        const double width = m_form.widthPt;
        const double step = std::clamp(std::sqrt(4 * width * m_tolerance), kLeastStep * width, kMostStep * width);
        const bool rope = m_form.section == TubeSection::Rope;
        if (way.points.size() < 2) {  // a dot: a short piece, all caps
            WayPoint other = way.points.at(0);
            other.p.x += 1e-3 * width;
            way.points.push_back(other);
        }
        way = resampled(way, rope ? std::min(step, m_form.layPt / 24) : step, kOver * 2 * m_section.height());
        if (sharpestTurn(way, step, width) > kSharp)
            smooth(way, lengthOf(way.points, way.closed) / static_cast<double>(way.points.size()), kBendWidth * width);
        sweep(way);
    }

    Body take() { return std::move(m_body); }

private:
    struct Ring {
        std::vector<std::uint32_t> ids;
        std::vector<Corner> corners;
    };

    Vec3 middleOf(const WayPoint& at) const { return {at.p.x, at.p.y, m_form.liftPt + m_section.height() + at.up}; }
    // Level, to the right of the way.
    static Vec3 acrossOf(Vec3 along) { return normalized(Vec3{along.y, -along.x, 0}); }

    // `cap`: 0 is upright on the way, up to 1, a point at its end; `forward`: which end.
    Ring ring(const WayPoint& at, Vec3 along, double u, double cap, bool forward)
    {
        Ring result;
        const double angle = cap * base::kPi / 2, size = std::cos(angle), out = std::sin(angle) * (forward ? 1 : -1);
        const Vec3 across = acrossOf(along), up = cross(across, along), middle = middleOf(at);
        const double reach = std::min(m_section.halfWidth(), m_section.height());
        for (int i = 0; i < m_section.around(); ++i) {
            const SectionPoint s = m_section.at(i, u);
            const Vec3 p = middle + across * (s.at.x * size) + up * (s.at.y * size) + along * (out * reach);
            if (m_section.isJoint(i)) {
                result.ids.push_back(0);  // the next one's
            } else {
                result.ids.push_back(static_cast<std::uint32_t>(m_body.positions.size()));
                m_body.positions.push_back(toFloat(p));
            }
            const Vec3 n = normalized(across * (s.normal.x * size) + up * (s.normal.y * size) + along * out);
            result.corners.push_back({toFloat(n), float(u), float(m_form.widthPt * base::kPi * i / m_section.around())});
        }
        if (m_section.isJoint(0)) {
            for (int k = 0; k < m_section.around(); k += 2)
                result.ids[static_cast<std::size_t>(k)] = result.ids[static_cast<std::size_t>(k + 1)];
        }
        return result;
    }

    void join(const Ring& from, const Ring& to, std::uint16_t letter)
    {
        const int n = m_section.around();
        for (int i = 0; i < n; ++i) {
            if (m_section.isJoint(i))
                continue;
            const auto a = static_cast<std::size_t>(i), b = static_cast<std::size_t>((i + 1) % n);
            Corner fromB = from.corners[b], toB = to.corners[b];
            if (b == 0)
                fromB.v = toB.v = float(m_form.widthPt * base::kPi);
            triangle({from.ids[a], to.ids[a], to.ids[b]}, {from.corners[a], to.corners[a], toB}, letter);
            triangle({from.ids[a], to.ids[b], from.ids[b]}, {from.corners[a], toB, fromB}, letter);
        }
    }

    // Closes an end; `forward`: the last one.
    void close(const WayPoint& at, Vec3 along, double u, Ring from, bool forward)
    {
        const bool flat = m_form.section == TubeSection::Ribbon || !m_form.roundEnds;
        const auto link = [&](const Ring& a, const Ring& b) { forward ? join(a, b, at.letter) : join(b, a, at.letter); };
        const int steps = flat ? 0 : std::max(3, m_section.around() / 4);
        for (int k = 1; k < steps; ++k) {
            const double cap = static_cast<double>(k) / steps;
            Ring next = ring(at, along, u, cap, forward);
            link(from, next);
            from = std::move(next);
        }
        const double reach = flat ? 0 : std::min(m_section.halfWidth(), m_section.height());
        const Vec3 out = along * (forward ? 1.0 : -1.0), p = middleOf(at) + out * reach;
        const auto pole = static_cast<std::uint32_t>(m_body.positions.size());
        m_body.positions.push_back(toFloat(p));
        const Corner tip{toFloat(out), float(u), 0};
        const int n = m_section.around();
        for (int i = 0; i < n; ++i) {
            if (m_section.isJoint(i))
                continue;
            const auto a = static_cast<std::size_t>(i), b = static_cast<std::size_t>((i + 1) % n);
            const Corner cornerA = flat ? tip : from.corners[a], cornerB = flat ? tip : from.corners[b];
            if (forward)
                triangle({from.ids[a], pole, from.ids[b]}, {cornerA, tip, cornerB}, at.letter);
            else
                triangle({from.ids[b], pole, from.ids[a]}, {cornerB, tip, cornerA}, at.letter);
        }
    }

    void sweep(const Way& way)
    {
        const std::size_t n = way.points.size();
        const auto alongAt = [&](std::size_t i) {
            const WayPoint& before = way.points[way.closed ? (i + n - 1) % n : i > 0 ? i - 1 : 0];
            const WayPoint& after = way.points[way.closed ? (i + 1) % n : std::min(i + 1, n - 1)];
            return normalized(middleOf(after) - middleOf(before));
        };
        // A closed rope turns by whole sectors.
        double whole = 0;
        for (std::size_t i = 0; i + (way.closed ? 0 : 1) < n; ++i)
            whole += length(middleOf(way.points[(i + 1) % n]) - middleOf(way.points[i]));
        double stretch = 1;
        if (way.closed && m_form.section == TubeSection::Rope) {
            const double sector = m_form.layPt / m_form.strands;
            stretch = std::max(1.0, std::round(whole / sector)) * sector / whole;
        }
        std::vector<Ring> rings;
        double u = 0;
        for (std::size_t i = 0; i < n; ++i) {
            if (i > 0)
                u += length(middleOf(way.points[i]) - middleOf(way.points[i - 1])) * stretch;
            rings.push_back(ring(way.points[i], alongAt(i), u, 0, true));
            if (i > 0)
                join(rings[i - 1], rings[i], way.points[i].letter);
        }
        if (way.closed) {
            Ring last = rings.front();
            for (Corner& c : last.corners)
                c.u = float(whole * stretch);
            join(rings.back(), last, way.points.back().letter);
            return;
        }
        close(way.points.front(), alongAt(0), 0, rings.front(), false);
        close(way.points.back(), alongAt(n - 1), u, rings.back(), true);
    }

    void triangle(const std::array<std::uint32_t, 3>& v, const std::array<Corner, 3>& corners, std::uint16_t letter)
    {
        m_body.triangles.push_back(v);
        m_body.corners.push_back(corners);
        m_body.parts.push_back(Part::Tube);
        m_body.letters.push_back(letter);
    }

    const TubeForm& m_form;
    Section m_section;
    double m_tolerance;
    Body m_body;
};

// Which of two lines that cross goes over the other: along a line over and under take turns, as far as what it meets leaves it the choice.
class Weave {
public:
    std::vector<Way::Over> of(const CentreLine& line, double widthPt)
    {
        std::vector<Way::Over> overs;
        double passed = 0;
        std::size_t at = 0;
        bool wasOver = true;
        for (const CentreLine::Crossing& crossing : line.crossings) {
            for (; at < crossing.point; ++at)
                passed += length(line.points[at + 1].p - line.points[at].p);
            const auto [first, isFirst] = m_firstIsOver.try_emplace(crossing.place, !wasOver);
            wasOver = isFirst ? first->second : !first->second;
            if (wasOver)
                overs.push_back({passed, widthPt * std::min(kMostRamp, kRamp / std::max(0.01, crossing.sine))});
        }
        return overs;
    }

private:
    std::map<int, bool> m_firstIsOver;
};

std::vector<Way> waysOf(const outline::Outline& outline, const TubeForm& form, const std::vector<CentreLine>& centres)
{
    std::vector<Way> ways;
    if (form.path == TubePath::Outline) {
        const std::vector<RimEdge> rim = rimOf(outline);
        std::size_t i = 0;
        for (const outline::Contour& contour : outline.contours) {
            Way way{{}, true, {}};
            for (std::size_t k = 0; k < contour.size(); ++k, ++i)
                way.points.push_back({{rim[i].a, 0, rim[i].letter}, 0});
            ways.push_back(std::move(way));
        }
        return ways;
    }
    const double half = form.widthPt / 2;
    Weave weave;
    for (const CentreLine& line : centres) {
        Way way{{}, line.closed, {}};
        for (const CentreLine::Point& point : line.points)
            way.points.push_back({point, 0});
        if (form.over)
            way.overs = weave.of(line, form.widthPt);
        if (!line.closed && line.points.size() > 1) {
            // Up to the outline where a stroke ends, and short of the line it meets where gaps are wanted.
            const auto cut = [&](bool meets, const CentreLine::Point& end) {
                return meets ? (form.gaps ? form.widthPt + form.gapPt : 0.0) : -std::max(0.0, end.distance - half);
            };
            const double atStart = cut(line.meetsAtStart, line.points.front()), atEnd = cut(line.meetsAtEnd, line.points.back());
            if (std::max(0.0, atStart) + std::max(0.0, atEnd) > 0.95 * lengthOf(way.points, false))
                continue;  // nothing is left of it
            shorten(way, false, atStart);
            shorten(way, true, atEnd);
        }
        ways.push_back(std::move(way));
    }
    return ways;
}

}  // namespace

base::Result<Body> makeTube(const outline::Outline& outline, const TubeForm& form, double tolerancePt, const base::Progress& progress)
{
    const auto stopped = [] { return base::fail(base::ErrorCode::Stopped, "Stopped"); };
    std::vector<CentreLine> centres;
    if (form.path == TubePath::Centre) {
        auto found = centreLines(outline);
        if (!found)
            return tl::unexpected<base::Error>(found.error());
        centres = std::move(*found);
    }
    TubeForm sane = form;
    sane.widthPt = std::max(form.widthPt, 4 * outline.unitPt);
    TubeBuilder builder(sane, tolerancePt);
    for (Way& way : waysOf(outline, sane, centres)) {
        if (progress.stopRequested())
            return stopped();
        builder.add(std::move(way));
    }
    return builder.take();
}

}  // namespace solid
