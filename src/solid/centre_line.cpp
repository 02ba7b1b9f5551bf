#include "solid/centre_line.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/units.h"
#include "solid/rim.h"
#include "solid/roof_diagram.h"

namespace solid {

namespace {

constexpr double kReach = 2.1;        // of the radius of the disc at a branch's foot: a corner of less than 57 degrees
constexpr double kLeastStroke = 1.5;  // length of a stroke that is a line and no dot, in widths
constexpr double kStraightOn = 60;    // degrees two branches may turn and still be one line
constexpr double kBridge = 3;         // most length of the bridge of a slanted crossing, in radii

}  // namespace

// The roof's diagram as a graph.
class CentreLineFinder {
public:
    CentreLineFinder(const Roof& roof, const std::vector<RimEdge>& rim) : m_d(*roof.m_diagram), m_vertices(m_d.vertices)
    {
        const auto border = static_cast<std::uint32_t>(m_d.feet.size());
        std::vector<std::uint16_t> letters(m_d.edges.size(), 0);
        for (const Roof::Diagram::Cell& cell : m_d.cells)
            for (const Roof::Diagram::Link& link : cell.chain)
                letters[link.edge] = rim[static_cast<std::size_t>(cell.site)].letter;
        m_nodes.resize(m_d.vertices.size());
        for (std::size_t i = 0; i < m_d.edges.size(); ++i) {
            const auto& e = m_d.edges[i];
            if (e.v0 < border || e.v1 < border || e.v0 == e.v1)
                continue;
            connect(e.v0, e.v1);
            m_letters[std::minmax(e.v0, e.v1)] = letters[i];
        }
    }

    std::vector<CentreLine> lines()
    {
        prune();
        joinCrossings();
        std::vector<CentreLine> lines;
        if (m_used == 0) {
            lines.push_back(pointAlone());
            return lines;
        }
        // Lines begin at ends and where a branch does not go on; what is left then are rings.
        for (std::uint32_t v = 0; v < m_nodes.size(); ++v)
            for (const std::uint32_t next : std::vector<std::uint32_t>(m_nodes[v].begin(), m_nodes[v].end()))
                if (!m_done.contains({v, next}) && partnerOf(v, next) == kNone)
                    lines.push_back(follow(v, next, false));
        for (std::uint32_t v = 0; v < m_nodes.size(); ++v)
            for (const std::uint32_t next : std::vector<std::uint32_t>(m_nodes[v].begin(), m_nodes[v].end()))
                if (!m_done.contains({v, next}))
                    lines.push_back(follow(v, next, true));
        return lines;
    }

private:
    static constexpr std::uint32_t kNone = 0xffffffff;

    Vec2 placeOf(std::uint32_t v) const { return m_vertices[v].p; }
    double radiusOf(std::uint32_t v) const { return m_vertices[v].distance; }

    void connect(std::uint32_t a, std::uint32_t b)
    {
        if (m_nodes[a].insert(b).second)
            ++m_used;
        m_nodes[b].insert(a);
    }
    void cut(std::uint32_t a, std::uint32_t b)
    {
        m_nodes[a].erase(b);
        m_nodes[b].erase(a);
        --m_used;
    }

    // The branch from an end to where it meets others, or to its other end.
    std::vector<std::uint32_t> branchFrom(std::uint32_t end) const
    {
        std::vector<std::uint32_t> branch{end};
        std::uint32_t before = kNone, at = end;
        while (true) {
            std::uint32_t next = kNone;
            for (const std::uint32_t n : m_nodes[at])
                if (n != before)
                    next = n;
            if (next == kNone || (at != end && m_nodes[at].size() != 2))
                return branch;
            before = at;
            at = next;
            branch.push_back(at);
            if (at == end)
                return branch;
        }
    }

    // Takes branches away that do not reach out, the shortest first: what they met may be a line afterwards.
    void prune()
    {
        for (bool any = true; any;) {
            any = false;
            std::vector<std::pair<double, std::vector<std::uint32_t>>> weak;
            for (std::uint32_t v = 0; v < m_nodes.size(); ++v) {
                if (m_nodes[v].size() != 1)
                    continue;
                std::vector<std::uint32_t> branch = branchFrom(v);
                double along = 0;
                for (std::size_t i = 0; i + 1 < branch.size(); ++i)
                    along += length(placeOf(branch[i + 1]) - placeOf(branch[i]));
                const double reach = (along + radiusOf(v)) / std::max(1e-9, radiusOf(branch.back()));
                const bool alone = m_nodes[branch.back()].size() == 1;
                if (reach < kReach && !alone)
                    weak.emplace_back(reach, std::move(branch));
                else if (alone && along + radiusOf(v) + radiusOf(branch.back()) < kLeastStroke * 2 * largestOn(branch))
                    weak.emplace_back(reach, std::move(branch));
            }
            std::sort(weak.begin(), weak.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
            std::set<std::uint32_t> touched;
            for (const auto& [_, branch] : weak) {
                if (touched.contains(branch.back()) || touched.contains(branch.front()))
                    continue;  // again, as things stand then
                touched.insert(branch.back());
                touched.insert(branch.front());
                for (std::size_t i = 0; i + 1 < branch.size(); ++i)
                    cut(branch[i], branch[i + 1]);
                any = true;
            }
        }
    }

    double largestOn(const std::vector<std::uint32_t>& branch) const
    {
        double largest = 0;
        for (const std::uint32_t v : branch)
            largest = std::max(largest, radiusOf(v));
        return largest;
    }

    CentreLine pointAlone() const
    {
        std::uint32_t best = 0;
        for (std::uint32_t v = 0; v < m_vertices.size(); ++v)
            if (radiusOf(v) > radiusOf(best))
                best = v;
        CentreLine line;
        line.points.push_back(
            {placeOf(best) * m_d.unitPt, radiusOf(best) * m_d.unitPt, m_letters.empty() ? std::uint16_t{0} : m_letters.begin()->second});
        return line;
    }

    // A branch from a node as far as to what is `reach` away from a place, or to where it ends or meets others.
    std::vector<std::uint32_t> armOf(std::uint32_t v, std::uint32_t next, Vec2 from, double reach) const
    {
        std::vector<std::uint32_t> arm{v, next};
        while (length(placeOf(arm.back()) - from) < reach && m_nodes[arm.back()].size() == 2 && arm.back() != v) {
            const auto& around = m_nodes[arm.back()];
            arm.push_back(*around.begin() == arm[arm.size() - 2] ? *around.rbegin() : *around.begin());
        }
        return arm;
    }
    // The direction a branch leaves a node in, over about the disc's radius.
    Vec2 directionOf(std::uint32_t v, std::uint32_t next) const
    {
        return normalized(placeOf(armOf(v, next, placeOf(v), radiusOf(v)).back()) - placeOf(v));
    }
    static double turnBetween(Vec2 in, Vec2 out) { return std::abs(base::degrees(std::atan2(cross(in, out), dot(in, out)))); }

    // A branch from one meeting of three to another; empty when it is none, or too long for the bridge of a crossing.
    std::vector<std::uint32_t> bridgeFrom(std::uint32_t v, std::uint32_t next) const
    {
        std::vector<std::uint32_t> bridge{v, next};
        double along = length(placeOf(next) - placeOf(v));
        while (m_nodes[bridge.back()].size() == 2) {
            const auto& around = m_nodes[bridge.back()];
            const std::uint32_t on = *around.begin() == bridge[bridge.size() - 2] ? *around.rbegin() : *around.begin();
            along += length(placeOf(on) - placeOf(bridge.back()));
            bridge.push_back(on);
            if (on == v || along > kBridge * radiusOf(v))
                return {};
        }
        const std::uint32_t w = bridge.back();
        const bool fits = m_nodes[w].size() == 3 && along <= kBridge * std::max(radiusOf(v), radiusOf(w));
        return fits ? bridge : std::vector<std::uint32_t>();
    }

    // Both arms at one end of the bridge go on nearly straight in one at the other end: the bridge becomes a place they all run straight
    // to.
    bool joinCrossing(const std::vector<std::uint32_t>& bridge)
    {
        const std::uint32_t v = bridge.front(), w = bridge.back();
        const Vec2 middle = (placeOf(v) + placeOf(w)) * 0.5;
        const double reach = length(placeOf(w) - placeOf(v)) / 2 + 1.5 * std::max(radiusOf(v), radiusOf(w));
        std::vector<std::vector<std::uint32_t>> arms;  // two from v, then two from w
        for (const auto& [node, inner] : {std::pair{v, bridge[1]}, std::pair{w, bridge[bridge.size() - 2]}})
            for (const std::uint32_t n : m_nodes[node])
                if (n != inner)
                    arms.push_back(armOf(node, n, middle, reach));
        const auto turn = [&](std::size_t a, std::size_t b) {
            return turnBetween(middle - placeOf(arms[a].back()), placeOf(arms[b].back()) - middle);
        };
        const bool goesOn = std::min(std::max(turn(0, 2), turn(1, 3)), std::max(turn(0, 3), turn(1, 2))) < kStraightOn;
        if (!goesOn || turn(0, 1) < kStraightOn || turn(2, 3) < kStraightOn)
            return false;
        std::set<std::uint32_t> ends;
        for (const auto& arm : arms)
            ends.insert(arm.back());
        if (ends.size() < arms.size() || ends.contains(v) || ends.contains(w))
            return false;  // a loop smaller than the crossing
        for (std::size_t i = 0; i + 1 < bridge.size(); ++i)
            cut(bridge[i], bridge[i + 1]);
        const auto place = static_cast<std::uint32_t>(m_vertices.size());
        m_vertices.push_back({middle, std::max(radiusOf(v), radiusOf(w))});
        m_nodes.emplace_back();
        for (const auto& arm : arms) {
            const std::uint16_t letter = m_letters.at(std::minmax(arm[arm.size() - 2], arm.back()));
            for (std::size_t i = 0; i + 1 < arm.size(); ++i)
                cut(arm[i], arm[i + 1]);
            connect(place, arm.back());
            m_letters[std::minmax(place, arm.back())] = letter;
        }
        return true;
    }

    void joinCrossings()
    {
        const auto count = static_cast<std::uint32_t>(m_nodes.size());
        for (std::uint32_t v = 0; v < count; ++v) {
            if (m_nodes[v].size() != 3)
                continue;
            for (const std::uint32_t next : std::vector<std::uint32_t>(m_nodes[v].begin(), m_nodes[v].end())) {
                const auto bridge = bridgeFrom(v, next);
                if (!bridge.empty() && joinCrossing(bridge))
                    break;
            }
        }
    }

    // The branch that goes on where the one to `next` comes to v; kNone where it ends.
    std::uint32_t partnerOf(std::uint32_t v, std::uint32_t next)
    {
        const std::vector<std::uint32_t> around(m_nodes[v].begin(), m_nodes[v].end());
        if (around.size() < 2)
            return kNone;
        if (around.size() == 2)
            return around[0] == next ? around[1] : around[0];
        auto& pairs = m_pairs[v];
        if (pairs.empty()) {
            std::vector<std::tuple<double, std::uint32_t, std::uint32_t>> turns;
            for (std::size_t i = 0; i < around.size(); ++i)
                for (std::size_t k = i + 1; k < around.size(); ++k) {
                    turns.emplace_back(turnBetween(directionOf(v, around[i]), directionOf(v, around[k]) * -1.0), around[i], around[k]);
                }
            std::sort(turns.begin(), turns.end());
            for (const auto& [turn, a, b] : turns)
                if (turn < kStraightOn && !pairs.contains(a) && !pairs.contains(b)) {
                    pairs[a] = b;
                    pairs[b] = a;
                }
            for (const std::uint32_t n : around)
                pairs.try_emplace(n, kNone);
        }
        return pairs.at(next);
    }

    CentreLine follow(std::uint32_t from, std::uint32_t next, bool ring)
    {
        CentreLine line;
        line.closed = ring;
        line.meetsAtStart = !ring && m_nodes[from].size() > 2;
        const auto add = [&](std::uint32_t v, std::uint16_t letter) {
            line.points.push_back({placeOf(v) * m_d.unitPt, radiusOf(v) * m_d.unitPt, letter});
        };
        // Where another pair goes through as well.
        const auto note = [&](std::uint32_t v, std::uint32_t onwards) {
            if (m_nodes[v].size() < 4)
                return;
            const auto& pairs = m_pairs.at(v);
            const Vec2 own = directionOf(v, onwards);
            for (const auto& [arm, other] : pairs)
                if (other != kNone && arm != onwards && other != onwards) {
                    line.crossings.push_back({line.points.size() - 1, static_cast<int>(v), std::abs(cross(own, directionOf(v, arm)))});
                    return;
                }
        };
        add(from, m_letters.at(std::minmax(from, next)));
        if (ring)
            note(from, next);
        std::uint32_t before = from, at = next;
        while (true) {
            m_done.insert({before, at});
            m_done.insert({at, before});
            if (ring && at == from)
                break;
            add(at, m_letters.at(std::minmax(before, at)));
            const std::uint32_t on = partnerOf(at, before);
            if (on == kNone) {
                line.closed = false;
                line.meetsAtEnd = m_nodes[at].size() > 2;
                break;
            }
            if (m_done.contains({at, on}))
                break;
            note(at, on);
            before = at;
            at = on;
        }
        return line;
    }

    const Roof::Diagram& m_d;
    std::vector<Roof::Diagram::Vertex> m_vertices;  // of the diagram, and the middles of crossings
    std::vector<std::set<std::uint32_t>> m_nodes;
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint16_t> m_letters;
    std::map<std::uint32_t, std::map<std::uint32_t, std::uint32_t>> m_pairs;
    std::set<std::pair<std::uint32_t, std::uint32_t>> m_done;
    std::ptrdiff_t m_used = 0;
};

base::Result<std::vector<CentreLine>> centreLines(const outline::Outline& outline)
{
    const auto roof = Roof::make(outline);
    if (!roof)
        return tl::unexpected<base::Error>(roof.error());
    return CentreLineFinder(**roof, rimOf(outline)).lines();
}

base::Result<double> thinnestStroke(const outline::Outline& outline)
{
    const auto lines = centreLines(outline);
    if (!lines)
        return tl::unexpected<base::Error>(lines.error());
    double least = 1e300;
    for (const CentreLine& line : *lines) {
        std::size_t begin = 0, end = line.points.size();
        const auto distance = [&](std::size_t i) { return line.points[i].distance; };
        while (!line.closed && !line.meetsAtStart && begin + 1 < end && distance(begin) < distance(begin + 1))
            ++begin;
        while (!line.closed && !line.meetsAtEnd && end - 1 > begin && distance(end - 1) < distance(end - 2))
            --end;
        for (std::size_t i = begin; i < end; ++i)
            least = std::min(least, distance(i));
    }
    return lines->empty() ? 0 : 2 * least;
}

}  // namespace solid
