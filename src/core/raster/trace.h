/// \file
/// Outlines of a plane's inked parts, as smooth curves.
/// Layer: core/raster. May use core/base. potrace stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/raster/plane.h"

#include <vector>

namespace bichrom {

/// A piece of an outline: a cubic Bézier curve to end; a straight line has its control points on it.
struct OutlinePiece
{
    double x1 = 0, y1 = 0, x2 = 0, y2 = 0; ///< control points
    double x = 0, y = 0;                   ///< end
};

/// A closed line; the last piece ends where it starts. Pixels from the plane's top left, y down.
struct Outline
{
    double x = 0, y = 0; ///< start
    std::vector<OutlinePiece> pieces;
};

/// The lines along which \p plane crosses one half, to be filled by the even-odd rule. Grey edge pixels place
/// an edge between two pixels, to about a tenth of a pixel. An empty plane has none. TooLarge for planes of
/// more than 400 million pixels; Internal when memory runs out.
[[nodiscard]] Outcome<std::vector<Outline>> trace_outlines(const Plane &plane);

} // namespace bichrom
