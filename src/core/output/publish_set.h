/// \file
/// A set of outputs becomes visible, beside those of an earlier one.
/// Layer: core/output, private.
#pragma once

#include "core/base/atomic_file.h"
#include "core/output/output_set.h"

#include <vector>

namespace bichrom {

/// Renames the finished files and manifest.json into place, all or none; tells of files of an earlier set
/// that are no part of this one, or moves them away as \p request says.
[[nodiscard]] Outcome<Manifest> publish_set(std::vector<AtomicFile *> files, Manifest manifest,
                                            const OutputRequest &request);

} // namespace bichrom
