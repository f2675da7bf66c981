/// \file
/// What both writers need before the first band: the page routed, sizes, file names.
/// Layer: core/output, private.
#pragma once

#include "core/artwork/page_boxes.h"
#include "core/line/plate_line.h"
#include "core/output/output_set.h"

namespace bichrom {

struct PreparedPage
{
    std::shared_ptr<const PlateLine> plate_line;
    PixelRect extent;               ///< of the art at the output resolution
    Rect trim;                      ///< mm from the art's top left
    std::vector<std::string> stems; ///< distinct safe file names, by plate
};

/// Interprets and routes the job's page. NothingToPrint when the job has no plates; Damaged.
[[nodiscard]] Outcome<PreparedPage> prepare_page(const OpenedJob &opened, Dpi resolution, PageBox box,
                                                 const JobControl &control);

/// The manifest without coverages.
[[nodiscard]] Manifest begin_manifest(const OpenedJob &opened, const PreparedPage &page, Dpi resolution);

} // namespace bichrom
