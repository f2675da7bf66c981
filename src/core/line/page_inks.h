/// \file
/// How much of each ink stands on each page of a file.
/// Layer: core/line.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <string>
#include <vector>

namespace bichrom {

struct PageInks
{
    struct Ink
    {
        std::string name;
        double square_cm = 0; ///< solid ink it would make, within the trim
    };
    int page = 1;
    std::vector<Ink> inks; ///< that the page names, process inks first
};

/// All pages of \p artwork, as the customer made them, read with \p colours. Told of progress page by page.
/// \return the first page's error that cannot be read; Cancelled
[[nodiscard]] Outcome<std::vector<PageInks>>
measure_page_inks(const Artwork &artwork, const ColourSettings &colours, const JobControl &control = {});

} // namespace bichrom
