#include "core/page/pixel_image.h"

#include <algorithm>
#include <cstdint>
#include <cstring>

namespace bichrom {

namespace {

struct PixelImage
{
    fz_image super;
    fz_pixmap *pixels; ///< kept
    SameJpeg jpeg;     ///< kept
};

/// Columns and rows of \p whole in \p area, which is cut to it; all of it where \p area is null. New
/// reference.
///
/// MuPDF fits what it is given to whole pixels, so that parts of a picture that is made smaller do not quite
/// meet. Of those that are no burden it is given all each time.
/// \param width, height  pixels that are made of the area
fz_pixmap *copy_part(fz_context *ctx, const fz_pixmap *whole, fz_irect *area, int width, int height)
{
    constexpr std::int64_t burden = 16 << 20; // bytes
    fz_irect box = {0, 0, whole->w, whole->h};
    if (area != nullptr) {
        const fz_irect asked = fz_intersect_irect(box, *area);
        const bool smaller = width < asked.x1 - asked.x0 || height < asked.y1 - asked.y0;
        box = smaller && std::int64_t(whole->stride) * whole->h <= burden ? box : asked;
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

/// \param halvings  what is left to do of it: nothing. MuPDF halves a picture that is made smaller, but takes
/// one
///                  that was halved less often when it still has it, so that what is painted would depend on
///                  what was painted before; its scaler takes all pixels in one step just as well.
fz_pixmap *part(fz_context *ctx, fz_image *image, fz_irect *area, int width, int height, int *halvings)
{
    if (halvings != nullptr) {
        *halvings = 0;
    }
    return copy_part(ctx, reinterpret_cast<PixelImage *>(image)->pixels, area, width, height);
}

struct UnhalvedImage
{
    fz_image super;
    fz_image *original; ///< kept
};

fz_pixmap *unhalved_part(fz_context *ctx, fz_image *image, fz_irect *area, int width, int height,
                         int *halvings)
{
    if (halvings != nullptr) {
        *halvings = 0;
    }
    fz_image *original = reinterpret_cast<UnhalvedImage *>(image)->original;
    fz_pixmap *whole = fz_get_pixmap_from_image(ctx, original, nullptr, nullptr, nullptr, nullptr);
    fz_pixmap *made = nullptr;
    fz_try(ctx)
    {
        made = copy_part(ctx, whole, area, width, height);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, whole);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return made;
}

std::size_t size_of_unhalved(fz_context *, fz_image *)
{
    return sizeof(UnhalvedImage);
}

void drop_unhalved(fz_context *ctx, fz_image *image)
{
    fz_drop_image(ctx, reinterpret_cast<UnhalvedImage *>(image)->original);
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
    fz_drop_image(ctx, reinterpret_cast<PixelImage *>(image)->jpeg.image);
}

} // namespace

fz_image *new_pixel_image(fz_context *ctx, fz_pixmap *pixels, bool interpolate, SameJpeg jpeg)
{
    fz_image *image =
        fz_new_image_of_size(ctx, pixels->w, pixels->h, 8, pixels->colorspace, 96, 96, interpolate ? 1 : 0, 0,
                             nullptr, nullptr, nullptr, sizeof(PixelImage), part, size_of, drop);
    reinterpret_cast<PixelImage *>(image)->pixels = fz_keep_pixmap(ctx, pixels);
    reinterpret_cast<PixelImage *>(image)->jpeg = {fz_keep_image(ctx, jpeg.image), jpeg.turned};
    return image;
}

fz_image *new_unhalved_image(fz_context *ctx, fz_image *image)
{
    fz_image *made = fz_new_image_of_size(
        ctx, image->w, image->h, 8, image->colorspace, 96, 96, image->interpolate, image->imagemask, nullptr,
        nullptr, nullptr, sizeof(UnhalvedImage), unhalved_part, size_of_unhalved, drop_unhalved);
    reinterpret_cast<UnhalvedImage *>(made)->original = fz_keep_image(ctx, image);
    return made;
}

SameJpeg jpeg_of(const fz_image *image)
{
    return image->get_pixmap == part ? reinterpret_cast<const PixelImage *>(image)->jpeg : SameJpeg();
}

bool is_plain_jpeg(fz_context *ctx, fz_image *image)
{
    const fz_compressed_buffer *buffer = fz_compressed_image_buffer(ctx, image);
    return buffer != nullptr && buffer->params.type == FZ_IMAGE_JPEG && image->bpc == 8 &&
           !image->use_colorkey && !image->invert_cmyk_jpeg && !image->imagemask;
}

SameJpeg same_jpeg(fz_image *image, const fz_pixmap &source, const fz_pixmap &result)
{
    if (source.n != result.n || source.alpha != 0 || result.alpha != 0 || source.w != result.w ||
        source.h != result.h) {
        return {};
    }
    bool same = true;
    bool turned = true;
    for (int y = 0; y < source.h && (same || turned); ++y) {
        const unsigned char *from = source.samples + y * source.stride;
        const unsigned char *to = result.samples + y * result.stride;
        const unsigned char *end = from + source.w * source.n;
        same = same && std::equal(from, end, to);
        turned = turned && std::equal(from, end, to, [](int a, int b) { return a == 255 - b; });
    }
    return same || turned ? SameJpeg{image, !same} : SameJpeg();
}

const fz_pixmap *pixels_of(const fz_image *image)
{
    return image->get_pixmap == part ? reinterpret_cast<const PixelImage *>(image)->pixels : nullptr;
}

} // namespace bichrom
