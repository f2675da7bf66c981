/// \file
/// A small picture of a film, counted from the film's own pixels.
/// Layer: core/output. May use core/raster.
#pragma once

#include "core/raster/plane.h"

#include <cstdint>
#include <vector>

namespace bichrom {

/// The squares a film is counted in: a multiple of 64 pixels on a side, at most about 240 of them high.
struct ThumbnailGrid
{
    int width = 0, height = 0; ///< of the film, pixels
    int square = 64;           ///< pixels on a side
    int columns = 0, rows = 0; ///< squares; those at the right and bottom may be cut

    ThumbnailGrid() = default;
    ThumbnailGrid(int film_width, int film_height);
};

/// Black pixels in each square that some rows of the film touch.
struct ThumbnailCount
{
    int first_row = 0; ///< of the grid
    std::vector<std::uint32_t> black;
};

[[nodiscard]] ThumbnailCount count_black(const ThumbnailGrid &grid, const Bitmap &film, int top);

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
