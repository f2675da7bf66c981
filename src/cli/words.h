/// \file
/// Words of options taken apart.
/// Layer: cli.
#pragma once

#include "core/base/outcome.h"

#include <optional>
#include <string>
#include <utility>

namespace bichrom {

/// An option that cannot be read, and how it is written.
[[nodiscard]] Error usage_error(const std::string &what, const std::string &remedy);

/// What stands before and after the first \p sign, without blanks around; nothing when either is empty.
[[nodiscard]] std::optional<std::pair<std::string, std::string>> halves_at_first(const std::string &text,
                                                                                 char sign);
/// What stands before and after the last \p sign, as it is: an ink's name may hold the sign, and blanks.
[[nodiscard]] std::optional<std::pair<std::string, std::string>> halves_at_last(const std::string &text,
                                                                                char sign);

} // namespace bichrom
