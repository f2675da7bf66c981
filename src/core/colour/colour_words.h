/// \file
/// Colours in everyday words, for people who do not read numbers.
/// Layer: core/colour.
#pragma once

#include "core/colour/process_profile.h"

#include <string>

namespace bichrom {

/// "dark green", "light grey", "pink": the family of its hue and how light it is.
[[nodiscard]] std::string colour_words(const Lab &lab);

} // namespace bichrom
