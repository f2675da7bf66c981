/// \file
/// The helper program that meets untrusted files first.
/// Layer: core/artwork, private.
#pragma once

#include "core/base/outcome.h"

#include <string>

namespace bichrom {

/// Its name; installed beside the others.
inline constexpr const char *intake_program = "bichrom-intake";

/// Its first argument when a PDF is only to be tried out; the input and the password file follow.
inline constexpr const char *probe_word = "probe";

/// Its first argument when a page is to be painted for a first look; input, password file, page and output
/// follow.
inline constexpr const char *glance_word = "glance";

/// Its exit code when a PDF that is tried out needs more memory than it may have.
inline constexpr int probe_needs_memory = 2;

/// Printed by it before the number of a page that takes too long to interpret.
inline constexpr const char *probe_slow_page = "slow-page";

/// Where it stands: beside this program, or where an installation puts it. Internal when it is missing.
[[nodiscard]] Outcome<std::string> find_intake_program();

} // namespace bichrom
