/// \file
/// Shapes whose last pixel column is not lost.
/// Layer: core/plates, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Appends the segments of \p path to \p to.
void append_path(fz_context *ctx, const fz_path *path, fz_path *to);

/// A path of a display list is packed to its very length and does not always fit into another list, where the
/// colours take more room. New reference to an unpacked copy, segment for segment.
[[nodiscard]] fz_path *unpacked(fz_context *ctx, const fz_path *path);

/// Changes a draw device so that hard edges are right. MuPDF's rasteriser for them inks a pixel of a row when
/// its centre lies inside, but cuts the shape's bounds down to whole pixels and so drops the
/// last column even where its centres are covered. Filled and stroked paths get an addition
/// that paints nothing but widens the bounds to the right: a line without area beside a fill,
/// a short line far off the page for a stroke, since a stroke nearer would show.
///
/// Downwards the cut is left: there every row that a shape touches is inked, and the cut
/// keeps its height true.
///
/// Done in the device, not in the recorded page, where wider bounds would make every strip
/// look at every stroke. Before guard_draw_device(), whose place it takes for these two.
void keep_last_column(fz_device *draw_device);

} // namespace bichrom
