/// \file
/// The stocks that ship with the program.
/// Layer: core/job.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

struct ShippedStock
{
    std::string id; ///< a word without spaces, different for each
    Stock stock;
};

/// Made up to look like the usual ones: garments, boards, papers, clear film over what may lie behind it.
[[nodiscard]] const std::vector<ShippedStock> &shipped_stocks();

} // namespace bichrom
