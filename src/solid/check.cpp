#include "solid/check.h"

#include <algorithm>

namespace solid {

namespace {

std::array<Vec3, 3> cornersOf(const Body& body, std::size_t i)
{
    const auto& t = body.triangles[i];
    return {toDouble(body.positions[t[0]]), toDouble(body.positions[t[1]]), toDouble(body.positions[t[2]])};
}

}  // namespace

double volume(const Body& body)
{
    double six = 0;
    for (std::size_t i = 0; i < body.triangles.size(); ++i) {
        const auto [a, b, c] = cornersOf(body, i);
        six += dot(a, cross(b, c));
    }
    return six / 6;
}

base::Box3 bounds(const Body& body)
{
    base::Box3 box;
    for (const Vec3f& p : body.positions)
        box.add(toDouble(p));
    return box;
}

double areaOf(const Body& body, Part part)
{
    double area = 0;
    for (std::size_t i = 0; i < body.triangles.size(); ++i)
        if (body.parts[i] == part) {
            const auto [a, b, c] = cornersOf(body, i);
            area += length(cross(b - a, c - a)) / 2;
        }
    return area;
}

bool isClosed(const Body& body)
{
    const auto mixed = [](std::uint64_t v) {  // splitmix64 (S. Vigna)
        v += 0x9e3779b97f4a7c15u;
        v = (v ^ v >> 30) * 0xbf58476d1ce4e5b9u;
        v = (v ^ v >> 27) * 0x94d049bb133111ebu;
        return v ^ v >> 31;
    };
    std::uint64_t sum = 0;
    for (const auto& t : body.triangles)
        for (int k = 0; k < 3; ++k) {
            const std::uint64_t a = t[static_cast<std::size_t>(k)], b = t[static_cast<std::size_t>((k + 1) % 3)];
            sum += mixed(a << 32 | b) - mixed(b << 32 | a);
        }
    return sum == 0;
}

BodyReport inspect(const Body& body)
{
    BodyReport report;
    std::vector<std::uint64_t> edges;
    edges.reserve(body.triangles.size() * 3);
    std::vector<bool> used(body.positions.size(), false);
    for (std::size_t i = 0; i < body.triangles.size(); ++i) {
        const auto& t = body.triangles[i];
        for (int k = 0; k < 3; ++k) {
            edges.push_back(std::uint64_t{t[k]} << 32 | t[(k + 1) % 3]);
            used[t[k]] = true;
        }
        const auto [a, b, c] = cornersOf(body, i);
        const double plan = cross(Vec2{b.x - a.x, b.y - a.y}, Vec2{c.x - a.x, c.y - a.y}) / 2;
        const Part part = body.parts[i];
        const bool front = part != Part::Back && part != Part::BackBevel;
        if (part != Part::Side && part != Part::Riser && part != Part::Tube)
            report.foldedAreaPt2 += std::max(0.0, front ? -plan : plan);
    }
    std::sort(edges.begin(), edges.end());
    for (std::size_t i = 0; i < edges.size(); ++i) {
        report.repeatedEdges += i > 0 && edges[i] == edges[i - 1];
        const std::uint64_t twin = edges[i] << 32 | edges[i] >> 32;
        report.unpairedEdges += !std::binary_search(edges.begin(), edges.end(), twin);
    }
    const auto vertices = std::count(used.begin(), used.end(), true);
    report.euler =
        static_cast<int>(vertices - static_cast<std::ptrdiff_t>(edges.size() / 2) + static_cast<std::ptrdiff_t>(body.triangles.size()));
    report.volumePt3 = volume(body);
    report.bounds = bounds(body);
    return report;
}

}  // namespace solid
