/// \file
/// Artwork that reaches no plate of the job.
/// Layer: core/preflight. May use core/artwork, core/job, core/line.
#pragma once

#include "core/artwork/artwork.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/preflight/finding.h"

#include <vector>

namespace bichrom {

/// The name of the check, for lists and agreement.
inline constexpr const char *lost_check = "lost_artwork";

/// What of the job's page holds ink in the artwork, is not covered by anything that prints, and prints on
/// no plate, though no route says so. On a coloured or clear stock also paper-white artwork, for which nobody
/// has decided between white ink and bare stock. One finding a colour, largest first; its places are objects,
/// or parts of pictures. Seen at 150 dpi or less: details under a pixel may be missed.
/// \param page  interpreted for the media box
/// TooLarge, CannotRead, Cancelled.
[[nodiscard]] Outcome<std::vector<Finding>> find_lost(const std::shared_ptr<const PageContent> &page,
                                                      const Scene &scene, const Job &job,
                                                      const JobControl &control = {});

/// Whether paper-white artwork would be missed on \p stock.
[[nodiscard]] bool shows_paper_white(const Stock &stock);

} // namespace bichrom
