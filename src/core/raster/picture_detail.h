/// \file
/// Whether a picture's content is as fine as its pixels.
/// Layer: core/raster.
#pragma once

#include "core/raster/plane.h"

namespace bichrom {

/// How many times a picture was blown up, in one direction at least as much in the other: by copying pixels
/// (any factor from 1.5), or by interpolation with a whole factor from 2 to 8, which leaves a period in the
/// differences of neighbours (Gallagher 2005, "Detection of linear and cubic interpolation in JPEG compressed
/// images"). 1 when nothing says so: other factors, and pictures that are only soft, are not told.
/// \param grey  a part of the picture, at least 64 × 64 pixels, else 1 is returned
[[nodiscard]] double blown_up(const Plane &grey);

} // namespace bichrom
