/// \file
/// Computed plates as PDF operators.
/// Layer: core/output, private.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/line/plate_shapes.h"
#include "core/output/compose.h"
#include "core/raster/trace.h"

#include <string>
#include <vector>

namespace bichrom {

/// Appends a number, and a space.
void put(std::string &out, double value);
/// Appends closed paths. Outlines are moved by \p x and \p y of their own units, of \p scale points each.
void put_outlines(std::string &out, const std::vector<Outline> &outlines, double scale, double x = 0,
                  double y = 0);
/// "/G3 gs " of a new state in which everything overprints.
[[nodiscard]] std::string overprinting(VectorPage &page);
/// "/C3" of a new space of plate \p number alone.
[[nodiscard]] std::string space_of(VectorPage &page, int number);

/// Adds plate \p number of \p plate_line, which a recipe computes, to \p page.
/// \param stroke_mm  above 0: the plate is not filled but its edge is stroked so wide
/// \return how; TooLarge, CannotRead, Cancelled
[[nodiscard]] Outcome<Composed> add_computed(VectorPage &page, const PlateLine &plate_line, int number,
                                             double stroke_mm, const JobControl &control);

/// Paints \p shapes, of one tone, on plate \p from of \p page as bare, all other plates untouched.
void add_knockout(VectorPage &page, const PlateShapes &shapes, int from);

} // namespace bichrom
