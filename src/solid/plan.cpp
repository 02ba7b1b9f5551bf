#include "solid/plan.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <unordered_map>

namespace solid {

namespace {

constexpr int kPlainRounds = 6;             // of rounding just the corners that fold
constexpr double kMostNegativeArea = 1e-6;  // of the plan area; more is a fold
constexpr double kOuterArcs = 0.0175;       // radians: growing makes the joints of a curve longer
constexpr double kFarther = 4;              // times what is grown: how far the frame round it is
constexpr std::uint32_t kNone = 0xffffffff;

double planArea(const RoofSheet& sheet, const RoofTriangle& t)
{
    const Vec2 a = sheet.vertices[t.v[0]].p, b = sheet.vertices[t.v[1]].p, c = sheet.vertices[t.v[2]].p;
    return cross(b - a, c - a) / 2;
}

// Corner cells that fold in the first bands: the edges that start there. Empty where at most a hair of the whole area does.
std::set<std::int32_t> foldedCorners(const RoofSheet& sheet, std::size_t bands)
{
    double negative = 0, total = 0;
    std::set<std::int32_t> corners;
    for (const RoofTriangle& t : sheet.triangles) {
        if (static_cast<std::size_t>(t.band) >= bands)
            continue;
        const double area = planArea(sheet, t);
        total += area;
        negative += std::max(0.0, -area);
        if (area < 0 && t.siteBefore >= 0)
            corners.insert(t.site);
    }
    return negative > kMostNegativeArea * total ? corners : std::set<std::int32_t>();
}

// `bands`: how many of them are wanted; others may fold.
RoofSheet cutWithoutFolds(const Roof& roof, Roof::CutSettings settings, std::size_t bands, std::size_t& rounded)
{
    const auto edges = static_cast<std::int32_t>(roof.feet().size());
    bool sharp = settings.mitred || settings.flat;
    RoofSheet sheet = roof.cut(settings);
    // Where a corner folds, it is rounded. A round corner can make a neighbour fold, and that the next one, all along a comb: after some
    // rounds those around are rounded with it, twice as many each time.
    std::int32_t around = 0, round = 0;
    std::set<std::int32_t> folded;
    for (std::set<std::int32_t> corners = foldedCorners(sheet, bands); sharp && !corners.empty(); corners = foldedCorners(sheet, bands)) {
        const std::size_t before = settings.rounded.size();
        if (++round > kPlainRounds)
            around = std::max(1, 2 * around);
        folded.insert(corners.begin(), corners.end());
        for (const std::int32_t corner : corners)
            for (std::int32_t i = std::max(0, corner - around); i <= std::min(edges - 1, corner + around); ++i)
                settings.rounded.insert(i);
        sharp = settings.rounded.size() > before;
        if (!sharp)
            settings.mitred = settings.flat = false;
        sheet = roof.cut(settings);
    }
    rounded += folded.size();
    return sheet;
}

// What lies round an outline: its contours the other way round, in a frame far away.
outline::Outline aroundOf(const outline::Outline& outline, double grownPt)
{
    outline::Outline result;
    result.unitPt = outline.unitPt;
    std::int64_t low[2] = {INT32_MAX, INT32_MAX}, high[2] = {INT32_MIN, INT32_MIN};
    for (const outline::Contour& contour : outline.contours) {
        const std::size_t n = contour.size();
        outline::Contour& reversed = result.contours.emplace_back();
        for (std::size_t k = 0; k < n; ++k) {
            const outline::Edge& e = contour[n - 1 - k];
            const outline::GridPoint from = contour[(n - k) % n].from;
            reversed.push_back({from, {-e.normalTo.x, -e.normalTo.y}, {-e.normalFrom.x, -e.normalFrom.y}, e.letter});
            low[0] = std::min<std::int64_t>(low[0], from.x);
            high[0] = std::max<std::int64_t>(high[0], from.x);
            low[1] = std::min<std::int64_t>(low[1], from.y);
            high[1] = std::max<std::int64_t>(high[1], from.y);
        }
    }
    const auto far = static_cast<std::int64_t>(kFarther * grownPt / outline.unitPt) + (high[0] - low[0] + high[1] - low[1]) / 8 + 1000;
    const auto at = [](std::int64_t x, std::int64_t y) {
        return outline::GridPoint{static_cast<std::int32_t>(x), static_cast<std::int32_t>(y)};
    };
    result.contours.push_back({{at(low[0] - far, low[1] - far), {0, -1}, {0, -1}, 0},
                               {at(high[0] + far, low[1] - far), {1, 0}, {1, 0}, 0},
                               {at(high[0] + far, high[1] + far), {0, 1}, {0, 1}, 0},
                               {at(low[0] - far, high[1] + far), {-1, 0}, {-1, 0}, 0}});
    return result;
}

}  // namespace

base::Result<Planner> Planner::make(const outline::Outline& outline, double grownPt)
{
    Planner planner;
    const auto inner = Roof::make(outline);
    if (!inner)
        return tl::unexpected<base::Error>(inner.error());
    planner.m_inner = *inner;
    planner.m_rim = rimOf(outline);
    planner.m_grown = grownPt;
    if (grownPt <= 0)
        return planner;
    const outline::Outline around = aroundOf(outline, grownPt);
    const auto outer = Roof::make(around, kOuterArcs);
    if (!outer)
        return tl::unexpected<base::Error>(outer.error());
    planner.m_outer = *outer;
    planner.m_outerRim = rimOf(around);
    std::size_t first = 0;
    for (const outline::Contour& contour : outline.contours) {
        for (std::size_t k = contour.size(); k-- > 0;)
            planner.m_outerEnd.push_back(planner.m_rim[first + k].start + planner.m_rim[first + k].length);
        first += contour.size();
    }
    return planner;
}

Plan Planner::cut(const std::vector<double>& rungs, Corners corners, double tolerancePt) const
{
    Plan plan;
    plan.rungs = rungs;
    const auto outlineRung = static_cast<std::size_t>(std::lower_bound(rungs.begin(), rungs.end(), m_grown) - rungs.begin());
    Roof::CutSettings settings;
    settings.tolerancePt = tolerancePt;
    settings.mitred = corners == Corners::Mitred;
    settings.flat = corners == Corners::Flat;
    for (std::size_t k = outlineRung; k < rungs.size(); ++k)
        settings.levels.push_back(rungs[k] - m_grown);
    plan.sheet = cutWithoutFolds(*m_inner, settings, settings.levels.size(), plan.roundedCorners);
    RoofSheet& sheet = plan.sheet;
    const auto shift = static_cast<std::int16_t>(outlineRung);
    for (RoofVertex& v : sheet.vertices)
        v.distance += m_grown;
    for (RoofTriangle& t : sheet.triangles)
        t.band = static_cast<std::int16_t>(t.band + shift);
    plan.around = sheet.triangles.size();
    if (m_outer) {
        settings.levels.clear();
        for (std::size_t k = outlineRung + 1; k-- > 0;)
            settings.levels.push_back(m_grown - rungs[k]);
        const RoofSheet outer = cutWithoutFolds(*m_outer, settings, outlineRung, plan.roundedCorners);
        // Inside and outside meet in the outline's points, one each even where contours touch.
        const std::size_t feet = m_inner->feet().size();
        std::map<std::pair<double, double>, std::uint32_t> places;
        std::vector<std::uint32_t> same(sheet.vertices.size());
        for (std::uint32_t i = 0; i < same.size(); ++i)
            same[i] = i < feet ? places.try_emplace({sheet.vertices[i].p.x, sheet.vertices[i].p.y}, i).first->second : i;
        for (RoofTriangle& t : sheet.triangles)
            for (std::uint32_t& v : t.v)
                v = same[v];
        std::vector<std::uint32_t> ids(outer.vertices.size(), kNone);
        const auto idOf = [&](std::uint32_t v) {
            if (ids[v] == kNone) {
                const RoofVertex& vertex = outer.vertices[v];
                const auto found = v < m_outer->feet().size() ? places.find({vertex.p.x, vertex.p.y}) : places.end();
                ids[v] = found != places.end() ? found->second : static_cast<std::uint32_t>(sheet.vertices.size());
                if (found == places.end())
                    sheet.vertices.push_back({vertex.p, m_grown - vertex.distance});
            }
            return ids[v];
        };
        const auto sites = static_cast<std::int32_t>(m_outerEnd.size());  // the frame's come after
        for (RoofTriangle t : outer.triangles) {
            if (t.site >= sites || static_cast<std::size_t>(t.band) >= outlineRung)
                continue;
            for (std::uint32_t& v : t.v)
                v = idOf(v);
            t.band = static_cast<std::int16_t>(shift - 1 - t.band);
            sheet.triangles.push_back(t);
        }
    }
    for (const RoofVertex& v : sheet.vertices) {
        const auto near = std::lower_bound(rungs.begin(), rungs.end(), v.distance - 1e-9 * std::max(1.0, v.distance));
        const bool isOn = near != rungs.end() && std::abs(*near - v.distance) <= 1e-9 * std::max(1.0, v.distance);
        plan.rungOf.push_back(isOn ? static_cast<int>(near - rungs.begin()) : -1);
    }
    return plan;
}

Vec2 Planner::outwardAt(const Plan& plan, std::size_t triangle, int i, double& along) const
{
    const RoofTriangle& t = plan.sheet.triangles[triangle];
    if (triangle < plan.around)
        return solid::outwardAt(m_rim, plan.sheet, t, i, along);
    const Vec2 inward = solid::outwardAt(m_outerRim, plan.sheet, t, i, along);
    const auto site = static_cast<std::size_t>(t.site);
    along = m_outerEnd[site] - (along - m_outerRim[site].start);
    return inward * -1.0;
}

std::uint16_t Planner::letterOf(const Plan& plan, std::size_t triangle) const
{
    return (triangle < plan.around ? m_rim : m_outerRim)[static_cast<std::size_t>(plan.sheet.triangles[triangle].site)].letter;
}

}  // namespace solid
