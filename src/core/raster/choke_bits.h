/// \file
/// Making what is bare or solid narrower or wider, 64 pixels at a time.
/// Layer: core/raster, private to it.
#pragma once

#include "core/raster/bit_plane.h"
#include "core/raster/run_plane.h"

namespace bichrom {

/// Rows [\p first, \p last) of \p ink without the pixels whose middle lies nearer than \p radius and a half
/// to that of a bare one; what lies outside the plane is neither. \pre width is over 0; radius 0 to 4096
[[nodiscard]] RunPlane choke(BitPlane ink, int first, int last, double radius);
/// The same rows with the pixels whose middle lies nearer than that to one inked.
[[nodiscard]] RunPlane spread(BitPlane ink, int first, int last, double radius);

} // namespace bichrom
