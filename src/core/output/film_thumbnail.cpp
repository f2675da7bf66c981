#include "core/output/film_thumbnail.h"

#include "core/raster/count_bits.h"

#include <algorithm>
#include <functional>

namespace bichrom {

ThumbnailGrid::ThumbnailGrid(int film_width, int film_height) : width(film_width), height(film_height)
{
    constexpr int most_rows = 240;
    const int longest = std::max(width, height);
    square = 64 * std::max(1, (longest + 64 * most_rows - 1) / (64 * most_rows));
    columns = (width + square - 1) / square;
    rows = (height + square - 1) / square;
    words = (width + 63) / 64;
    per_square = ((std::uint64_t(1) << column_bits) + static_cast<std::uint64_t>(square) - 1) /
                 static_cast<std::uint64_t>(square);
}

ThumbnailCount no_black(const ThumbnailGrid &grid, int top, int rows)
{
    ThumbnailCount count;
    count.first_row = top / grid.square;
    const int last_row = (top + rows - 1) / grid.square;
    const auto squares = static_cast<std::size_t>(last_row - count.first_row + 1);
    count.black.assign(squares * static_cast<std::size_t>(grid.columns), 0);
    count.in_words.assign(squares * static_cast<std::size_t>(grid.words), 0);
    return count;
}

void add_black(const ThumbnailGrid &grid, int y, const std::uint8_t *row, ThumbnailCount &count)
{
    const auto line = static_cast<std::ptrdiff_t>(y / grid.square - count.first_row);
    add_bit_counts(row, grid.words, count.in_words.data() + line * grid.words);
}

void add_black(const ThumbnailGrid &grid, int y, std::span<const int> changes, ThumbnailCount &count)
{
    const auto line = static_cast<std::ptrdiff_t>(y / grid.square - count.first_row);
    std::uint32_t *to = count.black.data() + line * grid.columns;
    const int square = grid.square;
    for (std::size_t i = 0; i < changes.size(); i += 2) {
        const int end = i + 1 < changes.size() ? changes[i + 1] : grid.width;
        int x = changes[i];
        int column = grid.column_of(x);
        for (int border = (column + 1) * square; border < end; border += square) {
            to[column++] += static_cast<std::uint32_t>(border - x);
            x = border;
        }
        to[column] += static_cast<std::uint32_t>(end - x);
    }
}

std::vector<std::uint64_t> black_of(const ThumbnailGrid &grid, const ThumbnailCount &count)
{
    std::vector<std::uint64_t> black(count.black.begin(), count.black.end());
    const int wide = grid.square / 64; // words
    const std::uint64_t *from = count.in_words.data();
    for (std::size_t first = 0; first < black.size(); first += static_cast<std::size_t>(grid.columns)) {
        for (int word = 0; word < grid.words; ++word) {
            black[first + static_cast<std::size_t>(word / wide)] += *from++;
        }
    }
    return black;
}

void ThumbnailSum::add(const ThumbnailCount &count)
{
    const std::vector<std::uint64_t> black = black_of(m_grid, count);
    std::transform(black.begin(), black.end(), m_black.begin() + count.first_row * m_grid.columns,
                   m_black.begin() + count.first_row * m_grid.columns, std::plus());
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
