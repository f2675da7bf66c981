/// \file
/// Where gradients paint.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/base/pixel_rect.h"
#include "core/raster/shape_list.h"

namespace bichrom {

/// Puts where \p shade, a gradient that has a sampler, paints into the open shape of \p shapes, which goes
/// even-odd.
/// \param area       what it paints at most, in pixels
/// \param to_pixels  from the gradient's space
void add_gradient_area(const fz_shade *shade, fz_rect area, const fz_matrix &to_pixels, const PixelRect &page,
                       ShapeList &shapes);

} // namespace bichrom
