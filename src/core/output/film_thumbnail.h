/// \file
/// A small picture of a film, counted from the film's own pixels.
/// Layer: core/output. May use core/raster.
#pragma once

#include "core/raster/plane.h"

#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// The squares a film is counted in: a multiple of 64 pixels on a side, at most about 240 of them high.
struct ThumbnailGrid
{
    int width = 0, height = 0; ///< of the film, pixels
    int square = 64;           ///< pixels on a side
    int columns = 0, rows = 0; ///< squares; those at the right and bottom may be cut
    int words = 0;             ///< of 64 pixels in a row of the film

    ThumbnailGrid() = default;
    ThumbnailGrid(int film_width, int film_height);
    /// The column of squares that column \p x of the film lies in.
    [[nodiscard]] int column_of(int x) const
    {
        return static_cast<int>(static_cast<std::uint64_t>(x) * per_square >> column_bits);
    }

private:
    /// x · ⌈2^40 / square⌉ / 2^40 is x / square exactly as long as x · square < 2^40.
    static constexpr int column_bits = 40;
    std::uint64_t per_square = 0;
};

/// Black pixels in the squares that some rows of the film touch: see black_of().
struct ThumbnailCount
{
    int first_row = 0;                   ///< of the grid
    std::vector<std::uint32_t> black;    ///< by square, but for what stands in in_words
    std::vector<std::uint64_t> in_words; ///< by rows of squares, for each word of a row of the film
};

/// None yet, of rows [\p top, \p top + \p rows) of the film.
[[nodiscard]] ThumbnailCount no_black(const ThumbnailGrid &grid, int top, int rows);
/// Adds what row \p y of the film holds: of its bits, as a Bitmap of the film's width has them,
void add_black(const ThumbnailGrid &grid, int y, const std::uint8_t *row, ThumbnailCount &count);
/// or of the columns where it changes colour, the first to ink, ascending.
void add_black(const ThumbnailGrid &grid, int y, std::span<const int> changes, ThumbnailCount &count);

/// Black pixels in each of these squares, row by row.
[[nodiscard]] std::vector<std::uint64_t> black_of(const ThumbnailGrid &grid, const ThumbnailCount &count);

/// Sums counts of all parts of a film.
class ThumbnailSum
{
public:
    explicit ThumbnailSum(const ThumbnailGrid &grid)
        : m_grid(grid),
          m_black(static_cast<std::size_t>(grid.columns) * static_cast<std::size_t>(grid.rows), 0)
    {
    }
    void add(const ThumbnailCount &count);
    /// 255 where a square is all black.
    [[nodiscard]] Plane plane() const;

private:
    ThumbnailGrid m_grid;
    std::vector<std::uint64_t> m_black;
};

} // namespace bichrom
