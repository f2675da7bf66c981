/// \file
/// A set of outputs becomes visible, beside those of an earlier one.
/// Layer: core/output, private.
#pragma once

#include "core/base/atomic_file.h"
#include "core/output/output_set.h"

#include <vector>

namespace bichrom {

/// What a manifest calls the artwork.
[[nodiscard]] std::string source_name(const OpenedJob &opened);

/// Renames the finished files and manifest.json into place, all or none; tells of files of an earlier set
/// that are no part of this one, or moves them away as \p request says.
[[nodiscard]] Outcome<Manifest> publish_set(std::vector<AtomicFile *> files, Manifest manifest,
                                            const OutputRequest &request);

/// CannotWrite when the request's folder holds a set of another file or page, or plates instead of films, and
/// earlier sets are not to be moved away: two sets never mix, and nothing of another one is lost.
/// \param screened  films, not plates
[[nodiscard]] Done may_publish(const OpenedJob &opened, bool screened, const OutputRequest &request);

} // namespace bichrom
