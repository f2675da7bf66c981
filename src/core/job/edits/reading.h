/// \file
/// What becomes of a job when its artwork is read in another way, or another page of it is worked on.
/// Layer: core/job/edits. May use core/job.
#pragma once

#include "core/job/job.h"

namespace bichrom {

/// The job with a plate for each ink of \p scene that has none, no route by ink takes and nobody has taken
/// away: what another page brings. Plates that are there stay as they are.
[[nodiscard]] Job with_inks_of(Job job, const Scene &scene);

/// Another way of reading the artwork (colours, box, picture size, its scale and bleed, what is placed),
/// taken over from \p read into \p now, which may have been edited meanwhile. Routes of artworks that are no
/// longer placed go. Plates nobody has touched are proposed afresh; others as plates_for() says. \param
/// shown, next  the page as it was read, and as it is read now \param artwork      as \p now has it
[[nodiscard]] Job with_reading(Job now, const Job &read, const Scene &shown, const Scene &next,
                               const Artwork &artwork);

} // namespace bichrom
