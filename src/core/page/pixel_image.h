/// \file
/// Converted pixels as an image that gives out only the part a strip needs.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// A JPEG of the artwork that holds the same values as some pixels.
struct SameJpeg
{
    fz_image *image = nullptr; ///< null = there is none
    bool turned = false;       ///< 0 there is 255 here
};

/// An image over \p pixels, which is kept. MuPDF's own image from a pixmap hands over the whole
/// picture each time and converts it to the target's planes for every strip; this one copies
/// out the rows and columns asked for. New reference.
/// \param jpeg  the picture of the artwork that they are, value for value, if that is a JPEG; kept, too
[[nodiscard]] fz_image *new_pixel_image(fz_context *ctx, fz_pixmap *pixels, bool interpolate,
                                        SameJpeg jpeg = {});

/// \p image, which is kept, as one whose parts are given out as they are, never halved: see
/// new_pixel_image(). It is decoded whole, into the interpreter's store. New reference.
[[nodiscard]] fz_image *new_unhalved_image(fz_context *ctx, fz_image *image);

/// The JPEG that such an image is; none for images of another kind.
[[nodiscard]] SameJpeg jpeg_of(const fz_image *image);

/// Whether \p image is a JPEG that any reader of a PDF decodes as it was decoded here.
[[nodiscard]] bool is_plain_jpeg(fz_context *ctx, fz_image *image);

/// \p image, which was decoded as \p source, where \p result holds its values, all as they are or all turned.
[[nodiscard]] SameJpeg same_jpeg(fz_image *image, const fz_pixmap &source, const fz_pixmap &result);

/// The pixels of such an image, lent by it; null for images of another kind.
[[nodiscard]] const fz_pixmap *pixels_of(const fz_image *image);

} // namespace bichrom
