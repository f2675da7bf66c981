/// \file
/// The area that a page paints, as exact shapes where it has them.
/// Layer: core/page, private to it. May use core/artwork, core/raster.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/raster/polygons.h"

namespace bichrom {

/// What a page paints, in points from its top left.
struct PaintedShapes
{
    std::vector<Polygons> shapes; ///< by object, in order of painting
    bool exact = true;            ///< false: something is no flat shape (pictures, shadings, masks, patterns,
                                  ///< transparency, dashes), and the shapes are not all
};

/// Collects every fill, stroke and letter of a list, clipped as it is. \p painted must outlive the device.
[[nodiscard]] fz_device *new_shape_device(fz_context *ctx, PaintedShapes &painted);

} // namespace bichrom
