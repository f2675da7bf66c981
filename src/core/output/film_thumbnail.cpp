#include "core/output/film_thumbnail.h"

#include "core/base/cpu_clones.h"

#include <algorithm>
#include <bit>
#include <cstring>

namespace bichrom {

namespace {

/// Adds to \p counts how many bits each \p square words of a row hold.
BICHROM_CPU_CLONES void count_squares(const std::uint8_t *row, int words, int square, std::uint32_t *counts)
{
    for (int first = 0, column = 0; first < words; first += square, ++column) {
        const int last = std::min(first + square, words);
        int black = 0;
        for (int i = first; i < last; ++i) {
            std::uint64_t word = 0;
            std::memcpy(&word, row + i * 8, 8);
            black += word == 0 ? 0 : std::popcount(word);
        }
        counts[column] += static_cast<std::uint32_t>(black);
    }
}

} // namespace

ThumbnailGrid::ThumbnailGrid(int film_width, int film_height) : width(film_width), height(film_height)
{
    constexpr int most_rows = 240;
    const int longest = std::max(width, height);
    square = 64 * std::max(1, (longest + 64 * most_rows - 1) / (64 * most_rows));
    columns = (width + square - 1) / square;
    rows = (height + square - 1) / square;
}

ThumbnailCount no_black(const ThumbnailGrid &grid, int top, int rows)
{
    ThumbnailCount count;
    count.first_row = top / grid.square;
    const int last_row = (top + rows - 1) / grid.square;
    count.black.assign(static_cast<std::size_t>((last_row - count.first_row + 1) * grid.columns), 0);
    return count;
}

namespace {

std::uint32_t *row_of(const ThumbnailGrid &grid, int y, ThumbnailCount &count)
{
    return count.black.data() + static_cast<std::ptrdiff_t>(y / grid.square - count.first_row) * grid.columns;
}

} // namespace

void add_black(const ThumbnailGrid &grid, int y, const std::uint8_t *row, ThumbnailCount &count)
{
    const int words = (grid.width + 63) / 64;
    if (row[0] == 0 && std::memcmp(row, row + 1, static_cast<std::size_t>(words) * 8 - 1) == 0) {
        return; // bare
    }
    count_squares(row, words, grid.square / 64, row_of(grid, y, count));
}

void add_black(const ThumbnailGrid &grid, int y, std::span<const int> changes, ThumbnailCount &count)
{
    std::uint32_t *to = row_of(grid, y, count);
    const int square = grid.square;
    for (std::size_t i = 0; i < changes.size(); i += 2) {
        const int end = i + 1 < changes.size() ? changes[i + 1] : grid.width;
        for (int x = changes[i]; x < end;) {
            const int column = x / square;
            const int next = std::min(end, (column + 1) * square);
            to[column] += static_cast<std::uint32_t>(next - x);
            x = next;
        }
    }
}

void ThumbnailSum::add(const ThumbnailCount &count)
{
    std::uint64_t *to = m_black.data() + static_cast<std::ptrdiff_t>(count.first_row) * m_grid.columns;
    for (std::size_t i = 0; i < count.black.size(); ++i) {
        to[i] += count.black[i];
    }
}

Plane ThumbnailSum::plane() const
{
    Plane plane(m_grid.columns, m_grid.rows);
    for (int y = 0; y < m_grid.rows; ++y) {
        const int high = std::min(m_grid.square, m_grid.height - y * m_grid.square);
        for (int x = 0; x < m_grid.columns; ++x) {
            const int wide = std::min(m_grid.square, m_grid.width - x * m_grid.square);
            const auto area = static_cast<std::uint64_t>(wide) * static_cast<std::uint64_t>(high);
            const std::uint64_t black = m_black[static_cast<std::size_t>(y * m_grid.columns + x)];
            plane.row(y)[static_cast<std::size_t>(x)] =
                static_cast<std::uint8_t>((black * 255 + area / 2) / area);
        }
    }
    return plane;
}

} // namespace bichrom
