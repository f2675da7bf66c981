/// \file
/// The colours that an artwork wishes for, and how much of it each covers.
/// Layer: core/separate. May use core/colour, core/line, core/proof.
#pragma once

#include "core/job/job_file.h"

#include <vector>

namespace bichrom {

/// A colour of the artwork.
struct WishedColour
{
    Lab colour;
    double share = 0; ///< of what is painted, 0 to 1
};

/// The colours of the job's page as the customer made it, where it paints, the most frequent first. Alike
/// ones (within about ΔE 4) are one. \param most  colours, 1 to 1000; what is left over counts for the
/// nearest \return NothingToPrint when nothing is painted; as OriginalView::make(), PlateLine::make()
[[nodiscard]] Outcome<std::vector<WishedColour>>
wished_colours(const OpenedJob &opened, std::size_t most = 160, const JobControl &control = {});

} // namespace bichrom
