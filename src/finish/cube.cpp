#include "finish/cube.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace finish {

namespace {

constexpr int kMost1d = 65536, kMost3d = 256;

std::string_view trimmed(std::string_view line)
{
    const auto from = line.find_first_not_of(" \t\r");
    if (from == std::string_view::npos)
        return {};
    return line.substr(from, line.find_last_not_of(" \t\r") - from + 1);
}

// Numbers with spaces between them, all of the text; nothing for any other.
std::vector<double> numbersIn(std::string_view text, std::size_t most)
{
    std::vector<double> numbers;
    while (!(text = trimmed(text)).empty()) {
        double value = 0;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc() || numbers.size() == most || !std::isfinite(value))
            return {};
        text.remove_prefix(static_cast<std::size_t>(end - text.data()));
        if (!text.empty() && text.front() != ' ' && text.front() != '\t')
            return {};
        numbers.push_back(value);
    }
    return numbers;
}

}  // namespace

base::Result<Cube> Cube::read(std::string_view text)
{
    Cube cube;
    std::size_t number = 0, wanted = 0;
    const auto bad = [&](const std::string& message) {
        return base::fail(base::ErrorCode::BadInput, message + "; take a .cube file that another program can read",
                          fmt::format("line {}", number));
    };
    while (!text.empty()) {
        ++number;
        const std::size_t end = std::min(text.find('\n'), text.size());
        const std::string_view line = trimmed(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        if (line.empty() || line.front() == '#')
            continue;
        const std::string_view key = line.substr(0, std::min(line.find_first_of(" \t"), line.size()));
        const std::string_view rest = line.substr(key.size());
        if (key == "TITLE")
            continue;
        if (key == "LUT_1D_SIZE" || key == "LUT_3D_SIZE") {
            cube.m_is3d = key == "LUT_3D_SIZE";
            const auto size = numbersIn(rest, 1);
            const int most = cube.m_is3d ? kMost3d : kMost1d;
            if (wanted > 0 || size.size() != 1 || size[0] < 2 || size[0] > most || size[0] != std::floor(size[0]))
                return bad(fmt::format("A colour table has one size, a whole number from 2 to {}", most));
            cube.m_size = static_cast<int>(size[0]);
            const auto side = static_cast<std::size_t>(cube.m_size);
            wanted = cube.m_is3d ? side * side * side : side;
        } else if (key == "DOMAIN_MIN" || key == "DOMAIN_MAX") {
            const auto ends = numbersIn(rest, 3);
            if (ends.size() != 3)
                return bad("The ends of a colour table's domain are three numbers");
            (key == "DOMAIN_MIN" ? cube.m_low : cube.m_high) = {static_cast<float>(ends[0]), static_cast<float>(ends[1]),
                                                                static_cast<float>(ends[2])};
        } else if (key == "LUT_1D_INPUT_RANGE" || key == "LUT_3D_INPUT_RANGE") {
            const auto ends = numbersIn(rest, 2);
            if (ends.size() != 2)
                return bad("The ends of a colour table's range are two numbers");
            const auto low = static_cast<float>(ends[0]), high = static_cast<float>(ends[1]);
            cube.m_low = {low, low, low};
            cube.m_high = {high, high, high};
        } else {
            const auto colour = numbersIn(line, 3);
            if (colour.size() != 3)
                return bad("This is no line of a colour table");
            if (wanted == 0)
                return bad("The size of the colour table must come before its colours");
            if (cube.m_colours.size() == wanted)
                return bad(fmt::format("The colour table has more than its {} colours", wanted));
            cube.m_colours.push_back({static_cast<float>(colour[0]), static_cast<float>(colour[1]), static_cast<float>(colour[2])});
        }
    }
    if (wanted == 0 || cube.m_colours.size() < wanted)
        return bad(fmt::format("The colour table has {} of its {} colours", cube.m_colours.size(), wanted));
    for (int c = 0; c < 3; ++c)
        if (!(cube.m_high[c] > cube.m_low[c]))
            return bad("The colour table's domain must end above where it begins");
    return cube;
}

Rgb Cube::at(Rgb colour) const
{
    const auto last = static_cast<float>(m_size - 1);
    int cell[3];
    float part[3];
    for (int c = 0; c < 3; ++c) {
        const float share = (colour[c] - m_low[c]) / (m_high[c] - m_low[c]), place = (share > 0 ? std::min(share, 1.0f) : 0.0f) * last;
        cell[c] = std::min(static_cast<int>(place), m_size - 2);
        part[c] = place - static_cast<float>(cell[c]);
    }
    Rgb out;
    if (!m_is3d) {
        const auto along = [&](int c) {
            const auto i = static_cast<std::size_t>(cell[c]);
            return m_colours[i][c] + (m_colours[i + 1][c] - m_colours[i][c]) * part[c];
        };
        return {along(0), along(1), along(2)};
    }
    // From black's corner along the axes in the order of how far they go: the tetrahedron's four corners.
    int order[3] = {0, 1, 2};
    std::sort(std::begin(order), std::end(order), [&](int a, int b) { return part[a] > part[b] || (part[a] == part[b] && a < b); });
    const auto side = static_cast<std::size_t>(m_size);
    const std::size_t steps[3] = {1, side, side * side};
    std::size_t at = 0;
    for (int c = 0; c < 3; ++c)
        at += static_cast<std::size_t>(cell[c]) * steps[c];
    out = m_colours[at] * (1 - part[order[0]]);
    for (int i = 0; i < 3; ++i) {
        at += steps[order[i]];
        out += m_colours[at] * (part[order[i]] - (i < 2 ? part[order[i + 1]] : 0));
    }
    return out;
}

}  // namespace finish
