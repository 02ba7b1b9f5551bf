#include "solid/slab.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>
#include <set>
#include <unordered_map>

#include "base/units.h"
#include "solid/along.h"
#include "solid/plan.h"
#include "solid/sides.h"

namespace solid {

namespace {

constexpr double kSameRung = 2;  // grid steps: distances nearer than this are one
constexpr double kApart = 8;     // grid steps that an outline is grown by where it touches itself
constexpr double kMostDraft = 89;
constexpr std::uint32_t kNone = 0xffffffff;

// A stretch of the cross-section along which the distance from the rim only rises or only falls: one surface over bands of the plan.
struct Strip {
    const Plan* plan = nullptr;
    std::vector<Level> levels;  // by rising distance; heights are z, `up` is that of the normal
    std::vector<Part> parts;    // between each level and the next; the last: of what lies beyond the last level
    bool facesUp = true;
    bool endless = false;  // to the middle; else to its last level
};

// Where two strips meet, and the upright wall between them where they are not at one height.
struct Turn {
    double distance = 0, low = 0, high = 0;
    std::unordered_map<std::uint32_t, std::uint32_t> lowIds, highIds;  // of the plan's vertices, in the body

    bool isWall() const { return high > low; }
    std::unordered_map<std::uint32_t, std::uint32_t>& idsOf(bool upper) { return upper && isWall() ? highIds : lowIds; }
};

bool isFlat(Part part)
{
    return part == Part::Face || part == Part::Back || part == Part::Inlay;
}

bool touchesItself(const outline::Outline& outline)
{
    std::set<std::pair<std::int32_t, std::int32_t>> places;
    for (const outline::Contour& contour : outline.contours)
        for (const outline::Edge& edge : contour)
            places.emplace(edge.from.x, edge.from.y);
    return places.size() < outline::edgeCount(outline);
}

// The cross-section: strips from the back's middle round the side to the front's, with a turn between each two.
class Section {
public:
    // Heights of the bevels are such that they fit into the depth.
    Section(const SlabForm& form, const outline::Outline& outline, double tolerancePt, int slices) : m_same(kSameRung * outline.unitPt)
    {
        const double depth = std::max(form.depthPt, kThinnestPt);
        const double high = depth - form.front.heightPt, low = std::min(form.back.heightPt, high), height = high - low;
        std::vector<Level> side{{0, low}, {0, high}};
        const bool upright = (form.draft == 0 && form.flutes.none()) || height <= 0;
        if (!upright) {
            side = sideLevels(form, height, tolerancePt);
            for (Level& level : side)
                level.height += low;
            side = divided(side, height / slices);
        }
        std::size_t rim = 0;
        // What is sunk stays before the back, and its bevel.
        const double room = std::max(0.0, depth - form.back.heightPt - std::min(kThinnestPt, depth / 2));
        std::vector<Level> front = levelsOf(form.front, form.inlay, room, tolerancePt, rim);
        std::vector<Level> back = levelsOf(form.back, tolerancePt);
        m_grown = form.grownOut ? std::max(form.front.none() ? 0 : side.back().distance + form.front.widthPt,
                                           form.back.none() ? 0 : side.front().distance + form.back.widthPt)
                                : 0;
        // Walls on both sides of a point would share an upright edge: there the outline is a hair's breadth inside.
        if (m_grown > 0 && touchesItself(outline))
            m_grown += kApart * outline.unitPt;
        for (Level& level : front) {
            level.distance += side.back().distance;
            level.height += high;
        }
        for (Level& level : back) {
            level.distance += side.front().distance;
            level.height = low - level.height;
            level.upBelow *= -1;
            level.upAbove *= -1;
        }
        // One plan for both serves where they share a rim that is not the outline itself.
        m_onePlan = !upright || m_grown > 0;
        m_rungs[0] = m_rungs[1] = {0, m_grown};
        for (const auto* levels : {&back, &side, &front})
            for (const Level& level : *levels)
                if (m_onePlan || levels == &side)
                    m_rungs[0].push_back(level.distance);
        if (!m_onePlan) {
            for (const Level& level : back)
                m_rungs[0].push_back(level.distance);
            for (const Level& level : front)
                m_rungs[1].push_back(level.distance);
        }
        settle(m_rungs[0]);
        settle(m_rungs[1]);
        addBack(snapped(back, m_rungs[0]));
        addSide(snapped(side, m_rungs[0]));
        addFront(snapped(front, frontRungs()), rim);
    }

    double grown() const { return m_grown; }
    bool onePlan() const { return m_onePlan; }
    const std::vector<double>& backRungs() const { return m_rungs[0]; }
    const std::vector<double>& frontRungs() const { return m_rungs[m_onePlan ? 0 : 1]; }
    std::vector<Strip> strips;
    std::vector<Turn> turns;  // turn i lies between strips i and i + 1

private:
    void settle(std::vector<double>& rungs) const
    {
        std::sort(rungs.begin(), rungs.end());
        std::vector<double> apart;
        for (const double rung : rungs)
            if (apart.empty() || rung - apart.back() > m_same)
                apart.push_back(rung);
            else if (rung == m_grown)
                apart.back() = rung;  // the outline's own stays exact
        rungs = apart;
    }

    double snap(double distance, const std::vector<double>& rungs) const
    {
        const auto above = std::lower_bound(rungs.begin(), rungs.end(), distance);
        if (above == rungs.end() || (above != rungs.begin() && distance - *(above - 1) < *above - distance))
            return *(above - 1);
        return *above;
    }

    std::vector<Level> snapped(std::vector<Level> levels, const std::vector<double>& rungs) const
    {
        for (Level& level : levels)
            level.distance = snap(level.distance, rungs);
        return levels;
    }

    // Steps along the depth that are longer than `most` become several.
    static std::vector<Level> divided(const std::vector<Level>& levels, double most)
    {
        std::vector<Level> result{levels.front()};
        for (std::size_t i = 1; i < levels.size(); ++i) {
            const Level &a = levels[i - 1], &b = levels[i];
            const int count = std::max(1, static_cast<int>(std::ceil((b.height - a.height) / most - 1e-9)));
            for (int k = 1; k < count; ++k) {
                const double f = double(k) / count;
                const Vec2 n = normalized(lerp(Vec2{a.outAbove, a.upAbove}, Vec2{b.outBelow, b.upBelow}, f));
                result.push_back({a.distance + (b.distance - a.distance) * f, a.height + (b.height - a.height) * f,
                                  a.arc + (b.arc - a.arc) * f, n.x, n.y, n.x, n.y});
            }
            result.push_back(b);
        }
        return result;
    }

    void addBack(std::vector<Level> levels)
    {
        std::vector<Part> parts(levels.size(), Part::BackBevel);
        parts.back() = Part::Back;
        strips.push_back({nullptr, std::move(levels), std::move(parts), false, true});
    }

    void addSide(const std::vector<Level>& side)
    {
        Turn turn{side.front().distance, side.front().height, side.front().height, {}, {}};
        bool isOpen = false;
        for (std::size_t i = 0; i + 1 < side.size(); ++i) {
            const Level &a = side[i], &b = side[i + 1];
            if (a.distance == b.distance) {
                isOpen = false;
                turn.high = b.height;
                continue;
            }
            const bool rises = b.distance > a.distance;
            if (!isOpen || strips.back().facesUp != rises) {
                turns.push_back(turn);
                strips.push_back({nullptr, {a}, {}, rises, false});
                isOpen = true;
            }
            strips.back().levels.push_back(b);
            turn = {b.distance, b.height, b.height, {}, {}};
        }
        turns.push_back(turn);
        for (std::size_t s = 1; s < strips.size(); ++s) {
            Strip& strip = strips[s];
            strip.parts.assign(strip.levels.size(), Part::Side);
            if (strip.facesUp)
                continue;
            std::reverse(strip.levels.begin(), strip.levels.end());
            for (Level& level : strip.levels) {
                std::swap(level.outBelow, level.outAbove);
                std::swap(level.upBelow, level.upAbove);
            }
        }
    }

    void addFront(std::vector<Level> levels, std::size_t rim)
    {
        std::vector<Part> parts(levels.size(), Part::FrontBevel);
        for (std::size_t i = 0; i < parts.size(); ++i) {
            if (i >= rim)
                parts[i] = Part::Rim;
            else if (i + 1 < rim && levels[i].distance == levels[i + 1].distance)
                parts[i] = Part::Riser;
            if (i + 1 == rim)
                parts[i] = Part::Face;
        }
        if (rim < parts.size())
            parts.back() = Part::Inlay;
        strips.push_back({nullptr, std::move(levels), std::move(parts), true, true});
    }

    double m_same, m_grown = 0;
    bool m_onePlan = false;
    std::vector<double> m_rungs[2];
};

// Where the levels of a strip are among the rungs of its plan, from rung `first` to before `last`: a band begins over one level; what lies
// below ends at another where there is a riser.
class BandLevels {
public:
    BandLevels(const Strip& strip, int first, int last)
        : m_strip(strip), m_last(last), m_above(strip.plan->rungs.size()), m_below(strip.plan->rungs.size())
    {
        for (int k = first; k < last; ++k) {
            std::size_t i = k == first ? 0 : m_above[k - 1];
            while (i + 1 < strip.levels.size() && strip.levels[i + 1].distance <= strip.plan->rungs[k])
                ++i;
            m_above[k] = i;
            while (i > 0 && strip.levels[i - 1].distance == strip.levels[i].distance)
                --i;
            m_below[k] = i;
        }
    }

    std::size_t above(int rung) const { return m_above[rung]; }
    std::size_t below(int rung) const { return m_below[rung]; }
    const Level& foot(int rung) const { return m_strip.levels[m_below[rung]]; }
    const Level& head(int rung) const { return m_strip.levels[m_above[rung]]; }

    bool isRiser(int rung) const
    {
        return rung < m_last && foot(rung).distance == m_strip.plan->rungs[rung] && foot(rung).height != head(rung).height;
    }

    // Of a place in the band.
    double height(int band, double distance) const
    {
        const Level& a = head(band);
        if (m_above[band] + 1 == m_strip.levels.size())
            return a.height;
        const Level& b = m_strip.levels[m_above[band] + 1];
        return a.height + (b.height - a.height) * std::clamp((distance - a.distance) / (b.distance - a.distance), 0.0, 1.0);
    }

private:
    const Strip& m_strip;
    int m_last;
    std::vector<std::size_t> m_above, m_below;
};

// Puts strips and walls together.
class SlabBuilder {
public:
    SlabBuilder(const Planner& planner, Section& section, int slices) : m_planner(planner), m_section(section), m_slices(slices) {}

    Body build()
    {
        // The front first: what is most looked at lies together.
        addStrip(m_section.strips.size() - 1);
        for (std::size_t s = 0; s + 1 < m_section.strips.size(); ++s)
            addStrip(s);
        for (Turn& turn : m_section.turns)
            if (turn.isWall())
                addWallOf(turn);
        return std::move(m_body);
    }

private:
    // One strip's vertices in the body.
    struct Ids {
        Turn *low = nullptr, *high = nullptr;  // high: nullptr in an endless one
        bool lowIsUpper = false, highIsUpper = false;
        std::vector<std::uint32_t> own, heads;  // heads: of risers, for the band above
    };

    std::uint32_t newVertex(Vec2 p, double z)
    {
        m_body.positions.push_back({float(p.x), float(p.y), float(z)});
        return static_cast<std::uint32_t>(m_body.positions.size() - 1);
    }

    void addStrip(std::size_t s)
    {
        const Strip& strip = m_section.strips[s];
        const Plan& plan = *strip.plan;
        const RoofSheet& sheet = plan.sheet;
        Ids ids;
        const bool isBack = s == 0;
        // Going up along the cross-section a strip that faces up runs inwards, one that faces down outwards.
        Turn *before = isBack ? nullptr : &m_section.turns[s - 1], *after = s < m_section.turns.size() ? &m_section.turns[s] : nullptr;
        ids.low = strip.facesUp ? before : after;
        ids.lowIsUpper = strip.facesUp;
        ids.high = strip.endless ? nullptr : strip.facesUp ? after : before;
        ids.highIsUpper = !strip.facesUp;
        ids.own.assign(sheet.vertices.size(), kNone);
        ids.heads.assign(sheet.vertices.size(), kNone);
        const int first = rungAt(plan, strip.levels.front().distance);
        const int last = strip.endless ? static_cast<int>(plan.rungs.size()) : rungAt(plan, strip.levels.back().distance);
        const BandLevels levels(strip, first, last);
        const auto footOf = [&](std::uint32_t v, int band) {
            const int rung = plan.rungOf[v];
            Turn* turn = rung == first ? ids.low : rung == last ? ids.high : nullptr;
            std::uint32_t& id =
                turn ? turn->idsOf(rung == first ? ids.lowIsUpper : ids.highIsUpper).try_emplace(v, kNone).first->second : ids.own[v];
            if (id == kNone) {
                const RoofVertex& vertex = sheet.vertices[v];
                id = newVertex(vertex.p,
                               rung >= 0 && levels.isRiser(rung) ? levels.foot(rung).height : levels.height(band, vertex.distance));
            }
            return id;
        };
        const auto headOf = [&](std::uint32_t v, int rung) {
            if (ids.heads[v] == kNone)
                ids.heads[v] = newVertex(sheet.vertices[v].p, levels.head(rung).height);
            return ids.heads[v];
        };
        for (std::size_t t = 0; t < sheet.triangles.size(); ++t) {
            const RoofTriangle& triangle = sheet.triangles[t];
            const int band = triangle.band;
            if (band < first || band >= last)
                continue;
            const std::uint16_t letter = m_planner.letterOf(plan, t);
            const Part part = strip.parts[levels.above(band)];
            std::array<std::uint32_t, 3> v{};
            std::array<Corner, 3> corners;
            std::array<bool, 3> onRiser{};
            const bool beginsOnRiser = levels.isRiser(band);
            for (int i = 0; i < 3; ++i) {
                onRiser[i] = beginsOnRiser && plan.rungOf[triangle.v[i]] == band;
                v[i] = onRiser[i] ? headOf(triangle.v[i], band) : footOf(triangle.v[i], band);
                corners[i] = cornerOf(strip, t, i, levels.above(band));
            }
            add(v, corners, part, letter, strip.facesUp);
            for (int i = 0; i < 3; ++i) {
                const int k = (i + 1) % 3;
                if (!onRiser[i] || !onRiser[k])
                    continue;
                const Level &foot = levels.foot(band), &head = levels.head(band);
                const double sign = (head.height > foot.height) == strip.facesUp ? 1 : -1;  // what is sunk looks inwards
                const auto wall = [&](int at, double arc) {
                    double along = 0;
                    const Vec2 outward = m_planner.outwardAt(plan, t, at, along);
                    return Corner{{float(sign * outward.x), float(sign * outward.y), 0}, float(along), float(arc)};
                };
                const Corner footA = wall(i, foot.arc), footB = wall(k, foot.arc), headA = wall(i, head.arc), headB = wall(k, head.arc);
                const std::uint32_t a = footOf(triangle.v[i], band), b = footOf(triangle.v[k], band);
                const Part wallPart = strip.parts[levels.below(band)];
                add({a, b, v[k]}, {footA, footB, headB}, wallPart, letter, strip.facesUp);
                add({a, v[k], v[i]}, {footA, headB, headA}, wallPart, letter, strip.facesUp);
            }
        }
    }

    Corner cornerOf(const Strip& strip, std::size_t t, int i, std::size_t level) const
    {
        const RoofVertex& v = strip.plan->sheet.vertices[strip.plan->sheet.triangles[t].v[static_cast<std::size_t>(i)]];
        if (isFlat(strip.parts[level]) || level + 1 == strip.levels.size())
            return {{0, 0, strip.facesUp ? 1.0f : -1.0f}, float(v.p.x), float(v.p.y)};
        const Level &low = strip.levels[level], &high = strip.levels[level + 1];
        const double f = std::clamp((v.distance - low.distance) / (high.distance - low.distance), 0.0, 1.0);
        const Vec2 profile =
            normalized(Vec2{low.outAbove + (high.outBelow - low.outAbove) * f, low.upAbove + (high.upBelow - low.upAbove) * f});
        double along = 0;
        const Vec2 outward = m_planner.outwardAt(*strip.plan, t, i, along);
        return {{float(outward.x * profile.x), float(outward.y * profile.x), float(profile.y)},
                float(along),
                float(low.arc + (high.arc - low.arc) * f)};
    }

    // Where a gap has just closed there would be a wall on either side of nothing.
    static void dropClosed(std::vector<WallEdge>& edges)
    {
        std::set<std::pair<std::uint32_t, std::uint32_t>> all;
        for (const WallEdge& edge : edges)
            all.emplace(edge.start, edge.end);
        std::erase_if(edges, [&](const WallEdge& edge) { return all.contains({edge.end, edge.start}); });
    }

    void addWallOf(Turn& turn)
    {
        const Plan& plan = *m_section.strips.back().plan;
        std::vector<WallEdge> edges;
        if (!plan.isGrown() && turn.distance == 0) {
            edges = wallEdges(m_planner.feet(), m_planner.rim());
        } else {
            const int rung = rungAt(plan, turn.distance);
            for (std::size_t t = 0; t < plan.sheet.triangles.size(); ++t) {
                const RoofTriangle& triangle = plan.sheet.triangles[t];
                for (int i = 0; i < 3 && triangle.band == rung; ++i) {
                    const int k = (i + 1) % 3;
                    const std::uint32_t a = triangle.v[i], b = triangle.v[k];
                    if (plan.rungOf[a] != rung || plan.rungOf[b] != rung)
                        continue;
                    WallEdge edge{a, b, {}, {}, 0, 0, m_planner.letterOf(plan, t)};
                    edge.normalFrom = m_planner.outwardAt(plan, t, i, edge.along);
                    edge.normalTo = m_planner.outwardAt(plan, t, k, edge.length);
                    edge.length -= edge.along;
                    edges.push_back(edge);
                }
            }
            dropClosed(edges);
        }
        std::unordered_map<std::uint32_t, std::uint32_t> places;
        std::vector<std::uint32_t> low, high;
        const auto placeOf = [&](std::uint32_t v) {
            const auto [place, isNew] = places.try_emplace(v, static_cast<std::uint32_t>(low.size()));
            if (isNew) {
                low.push_back(idOn(plan, turn.lowIds, v, turn.low));
                high.push_back(idOn(plan, turn.highIds, v, turn.high));
            }
            return place->second;
        };
        for (WallEdge& edge : edges) {
            edge.start = placeOf(edge.start);
            edge.end = placeOf(edge.end);
        }
        const double whole = m_section.turns.back().high - m_section.turns.front().low;
        const int slices = std::max(1, static_cast<int>(std::ceil(m_slices * (turn.high - turn.low) / whole - 1e-9)));
        addWall(m_body, {edges, low, high, turn.low, turn.high, slices});
    }

    std::uint32_t idOn(const Plan& plan, std::unordered_map<std::uint32_t, std::uint32_t>& ids, std::uint32_t v, double z)
    {
        std::uint32_t& id = ids.try_emplace(v, kNone).first->second;
        if (id == kNone)
            id = newVertex(plan.sheet.vertices[v].p, z);
        return id;
    }

    static int rungAt(const Plan& plan, double distance)
    {
        return static_cast<int>(std::lower_bound(plan.rungs.begin(), plan.rungs.end(), distance) - plan.rungs.begin());
    }

    void add(std::array<std::uint32_t, 3> v, std::array<Corner, 3> corners, Part part, std::uint16_t letter, bool facesUp)
    {
        if (!facesUp) {
            std::swap(v[1], v[2]);
            std::swap(corners[1], corners[2]);
        }
        m_body.triangles.push_back(v);
        m_body.corners.push_back(corners);
        m_body.parts.push_back(part);
        m_body.letters.push_back(letter);
    }

    const Planner& m_planner;
    Section& m_section;
    int m_slices;
    Body m_body;
};

// How many closed surfaces a body has. O(n).
std::size_t shellsOf(const Body& body)
{
    std::vector<std::uint32_t> parents(body.positions.size());
    std::iota(parents.begin(), parents.end(), 0u);
    const auto rootOf = [&](std::uint32_t v) {
        while (parents[v] != v)
            v = parents[v] = parents[parents[v]];
        return v;
    };
    for (const auto& t : body.triangles)
        for (const std::uint32_t v : {t[1], t[2]})
            parents[rootOf(v)] = rootOf(t[0]);
    std::set<std::uint32_t> roots;
    for (const auto& t : body.triangles)
        roots.insert(rootOf(t[0]));
    return roots.size();
}

// Bevels as they fit into the depth, the back's as the front's where they are linked.
SlabForm fitting(SlabForm form)
{
    if (form.linked)
        form.back = form.front;
    const double depth = std::max(form.depthPt, kThinnestPt);
    const double front = form.front.none() ? 0 : form.front.heightPt, back = form.back.none() ? 0 : form.back.heightPt;
    const double shrink = front + back > depth ? depth / (front + back) : 1;
    form.front.heightPt = front * shrink;
    form.back.heightPt = back * shrink;
    form.draft = std::clamp(form.draft, -kMostDraft, kMostDraft);
    return form;
}

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
    const SlabForm fitted = fitting(form);
    Section section(fitted, fine, tolerancePt, steps.slices);
    const auto planner = Planner::make(fine, section.grown());
    if (!planner)
        return tl::unexpected<base::Error>(planner.error());
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    // Nothing turns round a corner on a plain side: it is cut the plain way.
    const auto cut = [&](const std::vector<double>& rungs) {
        return planner->cut(rungs, rungs.size() > 1 ? form.corners : Corners::Round, tolerancePt);
    };
    const Plan back = cut(section.backRungs());
    const Plan front = section.onePlan() ? Plan{} : cut(section.frontRungs());
    for (Strip& strip : section.strips)
        strip.plan = &back;
    if (!section.onePlan())
        section.strips.back().plan = &front;
    Body body = SlabBuilder(*planner, section, steps.slices).build();
    const std::size_t rounded = back.roundedCorners + front.roundedCorners;
    if (rounded > 0)
        body.notes.push_back({"round-corners",
                              fmt::format("{} corners would fold as {} ones and are rounded; a narrower bevel can keep them", rounded,
                                          form.corners == Corners::Flat ? "flat" : "mitred"),
                              {}});
    if (!form.flutes.none() && shellsOf(body) > 1)
        body.notes.push_back({"cut-through", "The flutes cut through narrow strokes; make them less deep to keep the letter whole", {}});
    deform(body, form.along, form.along.about.value_or(outline::bounds(outline).centre()));
    return body;
}

}  // namespace solid
