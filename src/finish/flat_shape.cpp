#include "finish/flat_shape.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdlib>

namespace finish {

namespace {

using Fixed = std::int64_t;
constexpr int kBits = 12;
constexpr Fixed kOne = 1 << kBits;

Fixed fixed(double v)
{
    return std::llround(v * kOne);
}

// Where a line is at a height or column, rounded: the same whichever part of the picture asks.
Fixed crossing(Fixed from, Fixed to, Fixed at0, Fixed at1, Fixed at)
{
    const Fixed run = at1 - at0, by = (to - from) * (at - at0);
    return from + (by >= 0 ? by + run / 2 : by - run / 2) / run;
}

class Cells {
public:
    explicit Cells(const Area& area)
        : m_area(area), m_width(area.x1 - area.x0), m_cells(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(area.y1 - area.y0))
    {
    }

    void line(Fixed x0, Fixed y0, Fixed x1, Fixed y1)
    {
        if (y0 == y1)
            return;
        const Fixed sign = y0 < y1 ? 1 : -1;
        if (sign < 0) {
            std::swap(x0, x1);
            std::swap(y0, y1);
        }
        const Fixed first = std::max<Fixed>(y0 >> kBits, m_area.y0), last = std::min<Fixed>((y1 - 1) >> kBits, m_area.y1 - 1);
        for (Fixed row = first; row <= last; ++row) {
            const Fixed top = std::max(y0, row << kBits), low = std::min(y1, (row + 1) << kBits);
            inRow(static_cast<int>(row), at(x0, x1, y0, y1, top), top, at(x0, x1, y0, y1, low), low, sign);
        }
    }
    Image covered() const
    {
        Image out(m_area, 1);
        for (int y = m_area.y0; y < m_area.y1; ++y) {
            Fixed left = 0;
            for (int x = m_area.x0; x < m_area.x1; ++x) {
                const Cell& cell = m_cells[place(x, y)];
                const Fixed twice = std::abs((left + cell.height) * 2 * kOne - cell.area);
                *out.at(x, y) = std::min(1.0f, static_cast<float>(static_cast<double>(twice) / (2.0 * kOne * kOne)));
                left += cell.height;
            }
        }
        return out;
    }

private:
    struct Cell {
        Fixed height = 0;  // of the edges in it, with their direction
        Fixed area = 0;    // twice that between them and its left side
    };

    static Fixed at(Fixed x0, Fixed x1, Fixed y0, Fixed y1, Fixed y) { return y == y0 ? x0 : y == y1 ? x1 : crossing(x0, x1, y0, y1, y); }
    std::size_t place(int x, int y) const
    {
        return static_cast<std::size_t>(y - m_area.y0) * static_cast<std::size_t>(m_width) + static_cast<std::size_t>(x - m_area.x0);
    }
    void put(Fixed column, int row, Fixed height, Fixed twiceFromLeft)
    {
        if (column >= m_area.x1)
            return;
        const bool before = column < m_area.x0;
        Cell& cell = m_cells[place(before ? m_area.x0 : static_cast<int>(column), row)];
        cell.height += height;
        cell.area += before ? 0 : height * twiceFromLeft;
    }
    // Part of a line in one row, from the top down.
    void inRow(int row, Fixed x0, Fixed y0, Fixed x1, Fixed y1, Fixed sign)
    {
        Fixed column = x0 >> kBits;
        const Fixed lastColumn = x1 >> kBits;
        if (column == lastColumn) {
            put(column, row, sign * (y1 - y0), (x0 - (column << kBits)) + (x1 - (column << kBits)));
            return;
        }
        const Fixed way = x1 > x0 ? 1 : -1;
        Fixed x = x0, y = y0;
        while (column != lastColumn) {
            const Fixed border = (way > 0 ? column + 1 : column) << kBits;
            const Fixed next = border == x1 ? y1 : crossing(y0, y1, x0, x1, border);
            put(column, row, sign * (next - y), (x - (column << kBits)) + (border - (column << kBits)));
            x = border;
            y = next;
            column += way;
        }
        put(column, row, sign * (y1 - y), (x - (column << kBits)) + (x1 - (column << kBits)));
    }

    Area m_area;
    int m_width;
    std::vector<Cell> m_cells;
};

}  // namespace

Image coverageOf(const FlatShape& shape, const Area& area, double originX, double originY, double scale)
{
    Cells cells(area);
    for (const auto& line : shape) {
        for (std::size_t i = 0; i < line.size(); ++i) {
            const base::Vec2 &a = line[i], &b = line[i + 1 < line.size() ? i + 1 : 0];
            cells.line(fixed(originX + a.x * scale), fixed(originY - a.y * scale), fixed(originX + b.x * scale),
                       fixed(originY - b.y * scale));
        }
    }
    return cells.covered();
}

}  // namespace finish
