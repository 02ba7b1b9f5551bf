#include "solid/slab.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include "solid/along.h"
#include "solid/sides.h"

namespace solid {

namespace {

constexpr int kPlainRounds = 6;  // of rounding just the corners that fold

constexpr double kMostNegativeArea = 1e-6;  // of the plan area; more is a fold

double planArea(const RoofSheet& sheet, const RoofTriangle& t)
{
    const Vec2 a = sheet.vertices[t.v[0]].p, b = sheet.vertices[t.v[1]].p, c = sheet.vertices[t.v[2]].p;
    return cross(b - a, c - a) / 2;
}

// Corner cells that fold: the edges that start there. Empty where at most a hair of the whole area does.
std::set<std::int32_t> foldedCorners(const RoofSheet& sheet)
{
    double negative = 0, total = 0;
    std::set<std::int32_t> corners;
    for (const RoofTriangle& t : sheet.triangles) {
        const double area = planArea(sheet, t);
        total += area;
        negative += std::max(0.0, -area);
        if (area < 0 && t.siteBefore >= 0)
            corners.insert(t.site);
    }
    return negative > kMostNegativeArea * total ? corners : std::set<std::int32_t>();
}

// The levels at one distance: the one that ends the band below it and the one that begins the band above; at a riser they differ.
struct Rung {
    std::size_t below = 0, above = 0;
    bool isRiser() const { return below != above; }
};

std::vector<Rung> rungsOf(const std::vector<Level>& levels)
{
    std::vector<Rung> rungs;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        if (i > 0 && levels[i].distance == levels[i - 1].distance)
            rungs.back().above = i;
        else
            rungs.push_back({i, i});
    }
    return rungs;
}

// Puts sheets and sides together.
class SlabBuilder {
public:
    SlabBuilder(const outline::Outline& outline, const SlabForm& form, double tolerancePt, int slices)
        : m_form(form), m_edges(rimOf(outline)), m_tolerance(tolerancePt), m_slices(slices)
    {
        m_depth = std::max(form.depthPt, kThinnestPt);
        const double front = m_form.front.none() ? 0 : m_form.front.heightPt;
        const double back = m_form.back.none() ? 0 : m_form.back.heightPt;
        const double shrink = front + back > m_depth ? m_depth / (front + back) : 1;
        m_form.front.heightPt = front * shrink;
        m_form.back.heightPt = back * shrink;
        m_frontFoot = m_depth - m_form.front.heightPt;
        m_backFoot = shrink < 1 ? m_frontFoot : m_form.back.heightPt;
    }

    void build(const Roof& roof)
    {
        const std::size_t feet = roof.feet().size();
        m_sharedFeet = m_backFoot >= m_frontFoot;
        std::size_t rim = 0;
        // What is sunk stays before the back, and its bevel.
        const double room = std::max(0.0, m_depth - m_form.back.heightPt - std::min(kThinnestPt, m_depth / 2));
        const std::vector<Level> frontLevels = levelsOf(m_form.front, m_form.inlay, room, rim);
        addSheet(roof, frontLevels, rim, m_form.front.none(), true, 0);
        const std::vector<Level> backLevels = levelsOf(m_form.back);
        addSheet(roof, backLevels, backLevels.size(), m_form.back.none(), false, m_sharedFeet ? feet : 0);
        if (m_sharedFeet)
            return;
        std::vector<std::uint32_t> back(feet), front(feet);
        for (std::uint32_t i = 0; i < feet; ++i) {
            back[i] = m_backFeet + i;
            front[i] = m_frontFeet + i;
        }
        addSides(m_body, {roof.feet(), m_edges, back, front, m_backFoot, m_frontFoot, m_slices});
    }

    Body take() { return std::move(m_body); }

private:
    RoofSheet cut(const Roof& roof, bool bevelled, const std::vector<Level>& levels)
    {
        Roof::CutSettings settings;
        for (const Rung& rung : rungsOf(levels))
            settings.levels.push_back(levels[rung.below].distance);
        settings.tolerancePt = m_tolerance;
        settings.mitred = m_form.corners == Corners::Mitred && bevelled;
        RoofSheet sheet = roof.cut(settings);
        // Where mitring folds, that corner is rounded. A round corner can make a neighbour fold, and that the next one, all along a comb:
        // after some rounds those around are rounded with it, twice as many each time.
        std::int32_t around = 0, round = 0;
        std::set<std::int32_t> folded;
        for (std::set<std::int32_t> corners = foldedCorners(sheet); settings.mitred && !corners.empty(); corners = foldedCorners(sheet)) {
            const std::size_t before = settings.rounded.size();
            if (++round > kPlainRounds)
                around = std::max(1, 2 * around);
            folded.insert(corners.begin(), corners.end());
            const auto edges = static_cast<std::int32_t>(m_edges.size());
            for (const std::int32_t corner : corners)
                for (std::int32_t i = std::max(0, corner - around); i <= std::min(edges - 1, corner + around); ++i)
                    settings.rounded.insert(i);
            settings.mitred = settings.rounded.size() > before;
            sheet = roof.cut(settings);
        }
        if (!folded.empty() && m_body.notes.empty())
            m_body.notes.push_back(
                {"round-corners",
                 fmt::format("{} inner corners would fold if mitred and are rounded; a narrower bevel can be mitred", folded.size()),
                 {}});
        return sheet;
    }

    // Vertices of the sheet before `sharedFeet` are those already there.
    // Level `rim` begins the inlay's rim.
    void addSheet(const Roof& roof, const std::vector<Level>& levels, std::size_t rim, bool plain, bool front, std::size_t sharedFeet)
    {
        const std::vector<Rung> rungs = rungsOf(levels);
        const RoofSheet sheet = cut(roof, !plain || rim < levels.size(), levels);
        const auto offset = static_cast<std::uint32_t>(m_body.positions.size() - sharedFeet);
        (front ? m_frontFeet : m_backFeet) = sharedFeet > 0 ? m_frontFeet : offset;
        const auto position = [&](const RoofVertex& v, double rise) {
            return Vec3f{float(v.p.x), float(v.p.y), float(front ? m_frontFoot + rise : m_backFoot - rise)};
        };
        for (std::size_t i = sharedFeet; i < sheet.vertices.size(); ++i)
            m_body.positions.push_back(position(sheet.vertices[i], heightAt(levels, sheet.vertices[i].distance)));
        const auto idOf = [&](std::uint32_t v) { return v < sharedFeet ? m_frontFeet + v : offset + v; };
        // What lies on a riser is there twice: at its foot, and at its head for the band above.
        std::map<std::uint32_t, std::uint32_t> heads;
        const auto isOn = [&](std::uint32_t v, const Rung& rung) {
            const double d = levels[rung.below].distance;
            return std::abs(sheet.vertices[v].distance - d) <= 1e-9 * std::max(1.0, d);
        };
        const auto headOf = [&](std::uint32_t v, const Rung& rung) {
            const auto [head, isNew] = heads.try_emplace(v, static_cast<std::uint32_t>(m_body.positions.size()));
            if (isNew)
                m_body.positions.push_back(position(sheet.vertices[v], levels[rung.above].height));
            return head->second;
        };
        const auto add = [&](std::array<std::uint32_t, 3> ids, std::array<Corner, 3> corners, Part part, std::uint16_t letter) {
            if (!front) {
                std::swap(ids[1], ids[2]);
                std::swap(corners[1], corners[2]);
            }
            addTriangle(ids, corners, part, letter);
        };
        const Part bevelPart = front ? Part::FrontBevel : Part::BackBevel;
        const auto isTop = [&](const Rung& rung) { return rung.above + 1 == rim; };
        const auto faceBand = static_cast<std::size_t>(std::find_if(rungs.begin(), rungs.end(), isTop) - rungs.begin());
        for (const RoofTriangle& t : sheet.triangles) {
            const Rung& rung = rungs[static_cast<std::size_t>(t.band)];
            const std::uint16_t letter = m_edges[t.site].letter;
            const auto band = static_cast<std::size_t>(t.band);
            const bool isInlay = band > faceBand && band + 1 == rungs.size(), isFace = band == faceBand || isInlay;
            const Part part = isInlay ? Part::Inlay : isFace ? (front ? Part::Face : Part::Back) : band > faceBand ? Part::Rim : bevelPart;
            std::array<Corner, 3> corners;
            std::array<std::uint32_t, 3> ids;
            std::array<bool, 3> onRiser{};
            for (int i = 0; i < 3; ++i) {
                onRiser[i] = rung.isRiser() && isOn(t.v[i], rung);
                ids[i] = onRiser[i] ? headOf(t.v[i], rung) : idOf(t.v[i]);
                corners[i] = isFace ? faceCorner(sheet.vertices[t.v[i]], front) : bevelCorner(sheet, t, i, levels, rungs, front);
            }
            add(ids, corners, part, letter);
            // The riser itself, where the band above begins.
            for (int i = 0; i < 3; ++i) {
                const int k = (i + 1) % 3;
                if (!onRiser[i] || !onRiser[k])
                    continue;
                const float sign = levels[rung.above].height > levels[rung.below].height ? 1 : -1;  // what is sunk looks inwards
                const auto wall = [&](int at, std::size_t level) {
                    double along = 0;
                    const Vec2 outward = outwardAt(m_edges, sheet, t, at, along);
                    return Corner{{sign * float(outward.x), sign * float(outward.y), 0}, float(along), float(levels[level].arc)};
                };
                const Part wallPart = band > faceBand ? Part::Rim : front ? Part::Riser : bevelPart;
                const Corner footA = wall(i, rung.below), footB = wall(k, rung.below), headA = wall(i, rung.above),
                             headB = wall(k, rung.above);
                add({idOf(t.v[i]), idOf(t.v[k]), ids[k]}, {footA, footB, headB}, wallPart, letter);
                add({idOf(t.v[i]), ids[k], ids[i]}, {footA, headB, headA}, wallPart, letter);
            }
        }
    }

    static double heightAt(const std::vector<Level>& levels, double distance)
    {
        for (std::size_t i = 0; i + 1 < levels.size(); ++i)
            if (distance <= levels[i + 1].distance * (1 + 1e-12) && levels[i + 1].distance > levels[i].distance) {
                const double f = (distance - levels[i].distance) / (levels[i + 1].distance - levels[i].distance);
                return levels[i].height + (levels[i + 1].height - levels[i].height) * f;
            }
        return levels.back().height;
    }

    static Corner faceCorner(const RoofVertex& v, bool front) { return {{0, 0, front ? 1.0f : -1.0f}, float(v.p.x), float(v.p.y)}; }

    Corner bevelCorner(const RoofSheet& sheet, const RoofTriangle& t, int i, const std::vector<Level>& levels,
                       const std::vector<Rung>& rungs, bool front) const
    {
        const RoofVertex& v = sheet.vertices[t.v[i]];
        const auto band = static_cast<std::size_t>(t.band);
        const Level &low = levels[rungs[band].above], &high = levels[rungs[band + 1].below];
        const double f = std::clamp((v.distance - low.distance) / (high.distance - low.distance), 0.0, 1.0);
        Vec2 profile{low.outAbove + (high.outBelow - low.outAbove) * f, low.upAbove + (high.upBelow - low.upAbove) * f};
        profile = normalized(profile);
        double along = 0;
        const Vec2 outward = outwardAt(m_edges, sheet, t, i, along);
        return {{float(outward.x * profile.x), float(outward.y * profile.x), float(front ? profile.y : -profile.y)},
                float(along),
                float(low.arc + (high.arc - low.arc) * f)};
    }

    void addTriangle(std::array<std::uint32_t, 3> ids, const std::array<Corner, 3>& corners, Part part, std::uint16_t letter)
    {
        m_body.triangles.push_back(ids);
        m_body.corners.push_back(corners);
        m_body.parts.push_back(part);
        m_body.letters.push_back(letter);
    }

    SlabForm m_form;
    std::vector<RimEdge> m_edges;
    double m_tolerance;
    int m_slices;
    double m_depth = 0, m_frontFoot = 0, m_backFoot = 0;
    bool m_sharedFeet = false;
    std::uint32_t m_frontFeet = 0, m_backFeet = 0;
    Body m_body;
};

}  // namespace

base::Result<Body> makeSlab(const outline::Outline& outline, const SlabForm& form, double tolerancePt, const base::Progress& progress)
{
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    const AlongSteps steps = stepsFor(form.along, outline, tolerancePt);
    std::optional<outline::Outline> split;
    if (steps.slices > 1)
        split = withShortEdges(outline, steps.longestEdgePt);
    const outline::Outline& fine = split ? *split : outline;
    const auto roof = Roof::make(fine);
    if (!roof)
        return tl::unexpected<base::Error>(roof.error());
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    SlabBuilder builder(fine, form, tolerancePt, steps.slices);
    builder.build(**roof);
    Body body = builder.take();
    deform(body, form.along, form.along.about.value_or(outline::bounds(outline).centre()));
    return body;
}

}  // namespace solid
