/// \file
/// Shapes thinner than a pixel, kept on films that are painted by pixels.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Changes a draw device whose rasteriser inks the pixels whose centres lie inside, so that a contour that
/// holds none inks the pixels in its middle, as Shape says. After guard_draw_device().
void keep_thin_shapes(fz_device *draw_device);

} // namespace bichrom
