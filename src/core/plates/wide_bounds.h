/// \file
/// Paths whose last pixel column and row are not lost.
/// Layer: core/plates, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Appends the segments of \p path to \p to.
void append_path(fz_context *ctx, const fz_path *path, fz_path *to);

/// A copy of \p path that also holds a line without area a little to the right of and below
/// it. MuPDF's rasteriser for hard edges cuts a shape's bounds down to whole pixels and so
/// would drop the last column and row even where their centres are covered. New reference.
[[nodiscard]] fz_path *with_wide_bounds(fz_context *ctx, const fz_path *path, fz_matrix ctm);

/// The same for a path that is stroked: the addition is a short line far off the page,
/// where nothing is painted, since any stroke nearer would show. New reference.
[[nodiscard]] fz_path *with_wide_stroke_bounds(fz_context *ctx, const fz_path *path, fz_matrix ctm);

} // namespace bichrom
