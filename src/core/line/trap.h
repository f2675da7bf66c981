/// \file
/// Traps: where plates meet, made to overlap by a true circular distance.
/// Layer: core/line, private to it. May use core/job, core/raster.
#pragma once

#include "core/base/units.h"
#include "core/job/trap_rules.h"
#include "core/line/trap_rows.h"
#include "core/raster/run_plane.h"

#include <optional>
#include <span>
#include <vector>

namespace bichrom {

/// Where a part of a page lies, for traps of it.
struct TrapPart
{
    int above = 0;                   ///< rows given above the first that is asked for
    int rows = 0;                    ///< asked for
    double per_mm = 0;               ///< pixels
    int x = 0, y = 0;                ///< of the page, the first column and row given
    double media_x = 0, media_y = 0; ///< mm from the page's top left to the media box's
    int page = 1;
    /// Pixels that what is found reaches back into where the plate has that tone anyway, so that shapes
    /// traced from it leave no hairline.
    int back = 0;
};

/// Rows above and below a part that its traps look at, at \p resolution; 0 without traps.
[[nodiscard]] int trap_reach(const TrapSettings &traps, Dpi resolution);

/// Finds the traps of a part.
/// \param plates   the crisp planes of the job's plates, in their order, null = bare or not to be trapped; of
///                 one size: the part and what is given around it. Where less than trap_reach() is given the
///                 page ends.
/// \param only  of the edges between these two plates, the lower number first, and of no others
/// \param meetings  counted when given, of the rows asked for
/// \return by plate the rows asked for; empty for plates that stay as they are
/// The same bits whatever part they are found with.
[[nodiscard]] std::vector<TrapRows> find_traps(std::span<const RunPlane *const> plates,
                                               const TrapRules &rules, const TrapPart &part,
                                               TrapMeetings *meetings = nullptr,
                                               std::optional<std::pair<int, int>> only = {});

} // namespace bichrom
