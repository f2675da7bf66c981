/// \file
/// Planes with what traps change of them.
/// Layer: core/line, private to it. May use core/raster.
#pragma once

#include "core/line/trap_rows.h"
#include "core/raster/run_plane.h"

#include <memory>

namespace bichrom {

/// Rows of \p plate from \p first on with what \p traps replace.
[[nodiscard]] RunPlane with_traps(const std::shared_ptr<const RunPlane> &plate, int first,
                                  const TrapRows &traps);

/// Adds to a coarse plane the mean of what \p traps change of a fine one, \p by × \p by of whose pixels are
/// one.
/// \param plate   the fine plane before, at \p wide; \p traps are those of the rows of \p rows
/// \param coarse  at \p at, which holds all of \p rows
void add_mean_change(const TrapRows &traps, const RunPlane &plate, const PixelRect &wide,
                     const PixelRect &rows, int by, Plane &coarse, const PixelRect &at);

} // namespace bichrom
