/// \file
/// How much of a page each of its colours covers.
/// Layer: core/line. May use core/artwork, core/job.
#pragma once

#include "core/line/plate_line.h"

#include <vector>

namespace bichrom {

/// Colours beyond this many are not measured, so that a page of thousands takes no minutes.
inline constexpr std::size_t most_measured_colours = 248;

/// The visible area in cm² of each of the scene's colours, by number: where it is knocked out by later
/// objects it does not count; of pictures and shadings what holds ink. −1 for colours beyond the limit.
/// Measured at \p resolution or less, so that at most 4 million pixels are looked at. As measure_coverage().
[[nodiscard]] Outcome<std::vector<double>> measure_colours(const std::shared_ptr<const PageContent> &page,
                                                           const Scene &scene, Dpi resolution = Dpi(100),
                                                           const JobControl &control = {});

} // namespace bichrom
