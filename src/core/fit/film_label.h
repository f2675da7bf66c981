/// \file
/// What a film says of itself.
/// Layer: core/fit. May use core/job.
#pragma once

#include "core/base/units.h"
#include "core/job/job.h"

#include <string>

namespace bichrom {

/// What stands on the label besides the plate's own data.
struct LabelText
{
    std::string date;  ///< e.g. "2026-11-25"; left out when empty
    bool page = false; ///< whether the page's number stands on it, as it must where there are several
};

/// The label of plate \p index: the pieces that the job's marks ask for, in their order; pieces that have
/// nothing to say are left out. \param width, height  mm of the art; 0 = not said
[[nodiscard]] std::string film_label(const Job &job, std::size_t index, const LabelText &text,
                                     double width = 0, double height = 0);

} // namespace bichrom
