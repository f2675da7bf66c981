/// \file
/// A customer's PDF tried out where it can do no harm.
/// Layer: core/artwork. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Has the helper program open, interpret and paint the file's first pages, with limits on work and memory,
/// so that a file that makes its interpreter crash takes the helper with it and nothing else. \return the
/// pages that take too long to interpret, when the helper came back, also when it could not
///         read the file: whoever opens it next finds that out too, and says why; CannotRead when the helper
///         died; TooLarge when it was late; Internal without the helper; Cancelled
[[nodiscard]] Outcome<std::vector<int>> probe_pdf(std::span<const std::byte> bytes,
                                                  const std::string &password, int patience = 1,
                                                  const JobControl &control = {});

} // namespace bichrom
