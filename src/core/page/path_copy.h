/// \file
/// Copies of paths.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Appends the segments of \p path to \p to.
void append_path(fz_context *ctx, const fz_path *path, fz_path *to);

/// The same, and closes every contour: outlines of letters are closed though their font does not say so.
void append_closed(fz_context *ctx, const fz_path *path, fz_path *to);

/// A path of a display list is packed to its very length and does not always fit into another list, where the
/// colours take more room. New reference to an unpacked copy, segment for segment.
[[nodiscard]] fz_path *unpacked(fz_context *ctx, const fz_path *path);

} // namespace bichrom
