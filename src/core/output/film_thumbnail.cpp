#include "core/output/film_thumbnail.h"

#include <algorithm>
#include <cstring>

namespace bichrom {

namespace {

/// Bits set, by halves of a word: a call of the library's counter for each word costs as much as screening
/// it.
int ink_of(std::uint64_t word)
{
    word -= word >> 1 & 0x5555555555555555u;
    word = (word & 0x3333333333333333u) + (word >> 2 & 0x3333333333333333u);
    word = (word + (word >> 4)) & 0x0F0F0F0F0F0F0F0Fu;
    return static_cast<int>(word * 0x0101010101010101u >> 56);
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

ThumbnailCount count_black(const ThumbnailGrid &grid, const Bitmap &film, int top)
{
    ThumbnailCount count;
    count.first_row = top / grid.square;
    const int last_row = (top + film.height - 1) / grid.square;
    count.black.assign(static_cast<std::size_t>((last_row - count.first_row + 1) * grid.columns), 0);
    const int words = grid.square / 64;
    const int words_in_row = static_cast<int>(film.stride / 8);
    for (int y = 0; y < film.height; ++y) {
        std::uint32_t *out =
            count.black.data() +
            static_cast<std::ptrdiff_t>((top + y) / grid.square - count.first_row) * grid.columns;
        const std::uint8_t *row = film.row(y);
        if (row[0] == 0 && std::memcmp(row, row + 1, film.stride - 1) == 0) {
            continue; // bare
        }
        for (int first = 0, column = 0; first < words_in_row; first += words, ++column) {
            const int last = std::min(first + words, words_in_row);
            int black = 0;
            for (int i = first; i < last; ++i) {
                std::uint64_t word = 0;
                std::memcpy(&word, row + i * 8, 8);
                black += word == 0 ? 0 : ink_of(word);
            }
            out[column] += static_cast<std::uint32_t>(black);
        }
    }
    return count;
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
