/// \file
/// Where a page overprints, and where it does otherwise than the file says.
/// Layer: core/fit. May use core/job, core/line, core/raster.
#pragma once

#include "core/artwork/scene.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/raster/bit_plane.h"

#include <memory>

namespace bichrom {

struct OverprintMap
{
    Dpi resolution{200};
    BitPlane overprints;     ///< objects that print on top, and do so as the file says
    BitPlane now_overprints; ///< those that the artist or the house made to
    BitPlane now_knocks_out;
    int as_file = 0, to_overprint = 0, to_knock_out = 0; ///< objects of each kind
};

/// Where objects of each kind are seen, or would be were they solid.
/// Errors as PlateLine::run(); TooLarge above 400 million pixels.
[[nodiscard]] Outcome<OverprintMap> overprint_map(const std::shared_ptr<const PageContent> &page,
                                                  const Scene &scene, const Job &job, Dpi resolution,
                                                  const JobControl &control = {});

} // namespace bichrom
