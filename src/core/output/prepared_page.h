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
    PixelRect extent;                ///< of the page that is written, at the output resolution
    FilmPart part;                   ///< the same as a length
    FilmArt art;                     ///< the same, and its boxes
    std::vector<std::size_t> plates; ///< numbers of those to be written, in printing order
    std::vector<std::string> stems;  ///< distinct safe file names of those
};

/// What is written of \p opened: the same, or stretched as the job's films ask. Errors as assemble().
[[nodiscard]] Outcome<OpenedJob> as_written(const OpenedJob &opened);

/// Interprets and routes the job's page. NothingToPrint when the job has no plates; UnknownInk for a plate
/// asked for that it does not have; Damaged. \param screened  films, not plates
[[nodiscard]] Outcome<PreparedPage> prepare_page(const OpenedJob &opened, Dpi resolution, PageBox box,
                                                 bool screened, const OutputRequest &request,
                                                 const JobControl &control);

/// Which of the plates written are worth keeping: those that print, unless the request says otherwise. Takes
/// the others out of the manifest, and names them there. NothingToPrint when none is left.
[[nodiscard]] Outcome<std::vector<bool>> leave_out_blank(Manifest &manifest, const OutputRequest &request);

/// The manifest without coverages, with the plates to be written.
[[nodiscard]] Manifest begin_manifest(const OpenedJob &opened, const PreparedPage &page, Dpi resolution);

} // namespace bichrom
