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

}  // namespace

// The roof's diagram as a graph.
class CentreLineFinder {
public:
    CentreLineFinder(const Roof& roof, const std::vector<RimEdge>& rim) : m_d(*roof.m_diagram)
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

    Vec2 placeOf(std::uint32_t v) const { return m_d.vertices[v].p; }
    double radiusOf(std::uint32_t v) const { return m_d.vertices[v].distance; }

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
        for (std::uint32_t v = 0; v < m_d.vertices.size(); ++v)
            if (radiusOf(v) > radiusOf(best))
                best = v;
        CentreLine line;
        line.points.push_back(
            {placeOf(best) * m_d.unitPt, radiusOf(best) * m_d.unitPt, m_letters.empty() ? std::uint16_t{0} : m_letters.begin()->second});
        return line;
    }

    // The direction a branch leaves a node in, over about the disc's radius.
    Vec2 directionOf(std::uint32_t v, std::uint32_t next) const
    {
        std::uint32_t before = v, at = next;
        while (length(placeOf(at) - placeOf(v)) < radiusOf(v) && m_nodes[at].size() == 2) {
            const std::uint32_t on = *m_nodes[at].begin() == before ? *m_nodes[at].rbegin() : *m_nodes[at].begin();
            before = at;
            at = on;
            if (at == v)
                break;
        }
        return normalized(placeOf(at) - placeOf(v));
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
                    const Vec2 a = directionOf(v, around[i]), b = directionOf(v, around[k]) * -1.0;
                    turns.emplace_back(std::abs(base::degrees(std::atan2(cross(a, b), dot(a, b)))), around[i], around[k]);
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
        add(from, m_letters.at(std::minmax(from, next)));
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
            before = at;
            at = on;
        }
        return line;
    }

    const Roof::Diagram& m_d;
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
