/// \file
/// What steps of recipes are made of: areas drawn, and what becomes of tones.
/// Layer: core/line, private to it. May use core/job, core/raster.
#pragma once

#include "core/line/plate_op.h"
#include "core/raster/run_join.h"

#include <memory>
#include <vector>

namespace bichrom {

/// Where \p pixels, of the page, have ink in \p rect, by how much of each pixel they cover and how the tone
/// runs.
[[nodiscard]] Plane shaded(const PixelRect &rect, const Rect &pixels, const Fade &fade);
/// The same where the tone does not run, as row \p y of the page, whose column \p left is column 0 of \p to.
void add_even_row(RunPlane &to, int left, int y, const Rect &pixels);

/// The rectangles that a source is, in pixels of the page; none for other sources.
/// \param narrower  mm that each is moved in by at its edges, so that lines without width get one
[[nodiscard]] std::vector<Rect> rectangles_of(const RecipeSource &source, const OpPlace &place,
                                              double narrower);

/// \p area with its edges between pixels: those whose centres lie in it, left and upper edges within; one at
/// least.
[[nodiscard]] Rect whole_pixels(const Rect &area);

/// mm that a step's source is choked by: what keeps away from anything but a box spreads it.
[[nodiscard]] double narrower_by(const RecipeStep &step);

/// What Levels, Curve, Threshold and Tint make of a tone.
[[nodiscard]] ToneTable tones_of(const RecipeStep &step);
/// Solid wherever there is anything.
[[nodiscard]] ToneTable tones_anywhere();
/// What a step makes of the working plane's tone and another's: the source's, the artwork area's, of the same
/// plane smoothed, narrowed and widened. Null for steps that join nothing.
[[nodiscard]] std::shared_ptr<const PairTable> table_of(const RecipeStep &step);

} // namespace bichrom
