/// \file
/// Colours typed as artists write them.
/// Layer: core/colour.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/process_profile.h"

#include <string_view>

namespace bichrom {

/// "#1e90ff"; "rgb 255 0 0" or three numbers from 0 to 255; "cmyk 0 100 100 0" or four numbers from 0 to 100,
/// also as "C0 M100 Y100 K0"; "lab 50 20 -30" or "L50 a20 b-30". Blanks, commas or semicolons between,
/// percent signs and case do not matter. RGB is sRGB (IEC 61966-2-1), CMYK is of \p condition. \return
/// D50/2°; OutOfRange with what may be written
[[nodiscard]] Outcome<Lab> parse_colour(std::string_view text, const ProcessProfile &condition);

} // namespace bichrom
