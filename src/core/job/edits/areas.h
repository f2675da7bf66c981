/// \file
/// Named areas that are kept for a stock and used on pages of other sizes.
/// Layer: core/job/edits. May use core/job, core/artwork.
#pragma once

#include "core/job/job.h"

#include <vector>

namespace bichrom {

/// The areas of \p job on \p page, mm from the top left of its trim, for all pages.
[[nodiscard]] std::vector<NamedArea> area_set_of(const Job &job, const PageInfo &page);

/// The job with \p set, whose places count from the top left of the trim of \p page, besides the areas that
/// it has; one that it has already is not added again.
[[nodiscard]] Job with_area_set(Job job, const PageInfo &page, const std::vector<NamedArea> &set);

/// Whether \p placed is a template: only looked at. What does not print and a recipe looks at is not.
[[nodiscard]] bool is_template(const Job &job, const PlacedArtwork &placed);

} // namespace bichrom
