/// \file
/// The process inks as inks that colours can be solved into, beside spot inks and on white.
/// Layer: core/separate. May use core/colour.
#pragma once

#include "core/colour/ink_book.h"
#include "core/colour/process_profile.h"

#include <vector>

namespace bichrom {

/// Cyan, magenta, yellow and black as \p condition prints them by themselves on its paper: their solids over
/// white, and the dot gain by which their ramps are as light as the profile says, in twenty steps.
[[nodiscard]] std::vector<BookInk> process_inks(const ProcessProfile &condition);

} // namespace bichrom
