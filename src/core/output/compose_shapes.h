/// \file
/// Computed plates as PDF operators.
/// Layer: core/output, private.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/line/plate_line.h"
#include "core/output/compose.h"

namespace bichrom {

/// Adds plate \p number of \p plate_line, which a recipe computes, to \p page.
/// \param recipe  that computes it: followed on exact shapes where it and the artwork have them
/// \param stroke_mm  above 0: the plate is not filled but its edge is stroked so wide
/// \return how; TooLarge, CannotRead, Cancelled
[[nodiscard]] Outcome<Composed> add_computed(VectorPage &page, const PlateLine &plate_line, int number,
                                             const Recipe &recipe, double stroke_mm,
                                             const JobControl &control);

/// Takes plate \p number, which is one of tones 0 and solid only, away from what \p page paints on plate
/// \p from: its shapes there as bare, all other plates untouched.
/// \return whether it could be done: nothing is added for a plate of several tones; errors as add_computed()
[[nodiscard]] Outcome<bool> add_knockout(VectorPage &page, const PlateLine &plate_line, int number,
                                         const Recipe &recipe, int from, const JobControl &control);

} // namespace bichrom
