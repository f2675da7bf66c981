/// \file
/// Bleed made from the art.
/// Layer: core/job/edits. May use core/job, core/artwork.
#pragma once

#include "core/job/job.h"

namespace bichrom {

/// The job with bleed made as \p bleed says, at \p factor times its size. Where pages grow for bleed, every
/// place that the job remembers goes along.
/// \param artwork  as the job has it now, with whatever bleed is made now
/// \return OutOfRange for a width that cannot be; NoSuchPage
[[nodiscard]] Outcome<Job> with_made_bleed(Job job, const Artwork &artwork, const MadeBleed &bleed,
                                           double factor = 1);

} // namespace bichrom
