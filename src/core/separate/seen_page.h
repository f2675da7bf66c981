/// \file
/// A page as the customer made it, as pixels.
/// Layer: core/separate, private.
#pragma once

#include "core/job/job_file.h"

#include <cstdint>
#include <vector>

namespace bichrom {

struct SeenPage
{
    int width = 0, height = 0;
    Dpi resolution;
    std::vector<std::uint32_t> pixels; ///< 0xFFRRGGBB
    std::vector<bool> painted;         ///< wholly covered by the artwork
    std::shared_ptr<const PageContent> page;
};

/// The job's page, its longer side \p side pixels. As OriginalView::make(), PlateLine::make().
[[nodiscard]] Outcome<SeenPage> see_original(const OpenedJob &opened, int side, const JobControl &control);

} // namespace bichrom
