/// \file
/// Converted pixels as an image that gives out only the part a strip needs.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// An image over \p pixels, which is kept. MuPDF's own image from a pixmap hands over the whole
/// picture each time and converts it to the target's planes for every strip; this one copies
/// out the rows and columns asked for. New reference.
[[nodiscard]] fz_image *new_pixel_image(fz_context *ctx, fz_pixmap *pixels, bool interpolate);

/// The pixels of such an image, lent by it; null for images of another kind.
[[nodiscard]] const fz_pixmap *pixels_of(const fz_image *image);

} // namespace bichrom
