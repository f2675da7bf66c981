#include "core/page/pixel_image.h"

#include <cstring>

namespace bichrom {

namespace {

struct PixelImage
{
    fz_image super;
    fz_pixmap *pixels; ///< kept
};

fz_pixmap *part(fz_context *ctx, fz_image *image, fz_irect *area, int, int, int *)
{
    const fz_pixmap *whole = reinterpret_cast<PixelImage *>(image)->pixels;
    fz_irect box = {0, 0, whole->w, whole->h};
    if (area != nullptr) {
        box = fz_intersect_irect(box, *area);
        *area = box;
    }
    fz_pixmap *out =
        fz_new_pixmap(ctx, whole->colorspace, box.x1 - box.x0, box.y1 - box.y0, nullptr, whole->alpha);
    for (int y = box.y0; y < box.y1; ++y) {
        std::memcpy(out->samples + (y - box.y0) * out->stride,
                    whole->samples + y * whole->stride + box.x0 * whole->n,
                    static_cast<std::size_t>(box.x1 - box.x0) * whole->n);
    }
    return out;
}

std::size_t size_of(fz_context *, fz_image *image)
{
    const fz_pixmap *pixels = reinterpret_cast<PixelImage *>(image)->pixels;
    return sizeof(PixelImage) +
           static_cast<std::size_t>(pixels->stride) * static_cast<std::size_t>(pixels->h);
}

void drop(fz_context *ctx, fz_image *image)
{
    fz_drop_pixmap(ctx, reinterpret_cast<PixelImage *>(image)->pixels);
}

} // namespace

fz_image *new_pixel_image(fz_context *ctx, fz_pixmap *pixels, bool interpolate)
{
    fz_image *image =
        fz_new_image_of_size(ctx, pixels->w, pixels->h, 8, pixels->colorspace, 96, 96, interpolate ? 1 : 0, 0,
                             nullptr, nullptr, nullptr, sizeof(PixelImage), part, size_of, drop);
    reinterpret_cast<PixelImage *>(image)->pixels = fz_keep_pixmap(ctx, pixels);
    return image;
}

const fz_pixmap *pixels_of(const fz_image *image)
{
    return image->get_pixmap == part ? reinterpret_cast<const PixelImage *>(image)->pixels : nullptr;
}

} // namespace bichrom
