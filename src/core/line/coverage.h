/// \file
/// How much of the page each plate covers.
/// Layer: core/line.
#pragma once

#include "core/line/plate_line.h"

namespace bichrom {

/// Mean tone of each plate over the page, or over \p area of it (mm from its top left; cut to the page;
/// empty = all), 0 to 1, in the order of the plate line's inks.
/// Measured at \p resolution or less, so that at most 40 million pixels are looked at.
/// TooLarge, CannotRead, Cancelled.
[[nodiscard]] Outcome<std::vector<double>> measure_coverage(const PlateLine &plate_line,
                                                            Dpi resolution = Dpi(150),
                                                            const JobControl &control = {},
                                                            const Rect &area = {});

} // namespace bichrom
