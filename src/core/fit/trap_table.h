/// \file
/// The pairs of plates that meet on a page, and what their traps are.
/// Layer: core/fit. May use core/job, core/line, core/raster.
#pragma once

#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/raster/bit_plane.h"

#include <string>
#include <vector>

namespace bichrom {

/// One pair that meets.
struct TrapTableRow
{
    std::string first, second; ///< inks, the one printed first first
    double edge = 0;           ///< mm of the line along which they meet
    double first_spreads = 0;  ///< mm² of the first under the second
    double second_spreads = 0;
    TrapPair decided; ///< turned as the row is; Usual without a width when nothing is
    double width = 0; ///< mm that holds for it
};

/// The pairs of \p traps, the longest edge first.
[[nodiscard]] std::vector<TrapTableRow>
trap_table(const PageTraps &traps, const std::vector<std::string> &inks, const TrapSettings &settings);

/// Where \p traps print more than the plates alone, and where less.
struct TrapMap
{
    Dpi resolution{600};
    BitPlane more, less;
};
[[nodiscard]] TrapMap trap_map(const PageTraps &traps);

} // namespace bichrom
