/// \file
/// Making a plane of runs narrower or wider by an exact circular distance.
/// Layer: core/raster.
#pragma once

#include "core/raster/run_plane.h"

#include <functional>
#include <span>

namespace bichrom {

/// Rows of a plane with those around them. Row numbers are the caller's.
struct RowsAround
{
    int width = 0;
    int first = 0, last = 0; ///< asked for: [first, last)
    int top = 0, bottom = 0; ///< [top, bottom) are known; what lies outside is neither bare nor inked
    std::function<std::span<const ToneRun>(int y)> row; ///< of those that are known
};

/// Rows on either side that a choke or a spread by \p radius pixels looks at.
[[nodiscard]] int rows_looked_at(double radius);

/// What pixels at an edge become.
enum class EdgePixels
{
    Grey, ///< as much as they are covered
    Whole ///< solid where that is half or more, else bare
};

/// As choke() of planes. \pre \p radius is over 0
/// \return rows.last − rows.first rows, bare and solid but for edges
[[nodiscard]] RunPlane choke(const RowsAround &rows, double radius, EdgePixels edges = EdgePixels::Grey);
/// As spread() of planes.
[[nodiscard]] RunPlane spread(const RowsAround &rows, double radius, EdgePixels edges = EdgePixels::Grey);

} // namespace bichrom
