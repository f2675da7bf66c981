#include "core/page/draw_guard.h"

#include "core/artwork/mupdf/notes.h"
#include "core/page/pixel_image.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <tuple>

namespace bichrom {

namespace {

/// The draw device's own function \p Member, the same for all draw devices, behind a guard.
template <auto Member> struct Guarded;
template <typename... Args, void (*fz_device::*Member)(fz_context *, fz_device *, Args...)>
struct Guarded<Member>
{
    static inline void (*own)(fz_context *, fz_device *, Args...) = nullptr;
    static void paint(fz_context *ctx, fz_device *device, Args... args) { own(ctx, device, args...); }
};

/// Sets how an enlarged picture is painted while it lives: as its pixels, unless the picture itself asks to
/// be interpolated (ISO 32000-1, 8.9.5.3); the same on plates and on films. Reduced ones stay as the device
/// does.
int hints_for(const fz_device *device, const fz_image *image, fz_matrix ctm)
{
    const bool enlarged = std::hypot(ctm.a, ctm.b) > static_cast<float>(image->w) ||
                          std::hypot(ctm.c, ctm.d) > static_cast<float>(image->h);
    if (!enlarged) {
        return device->hints;
    }
    return image->interpolate != 0 ? device->hints & ~FZ_DONT_INTERPOLATE_IMAGES
                                   : device->hints | FZ_DONT_INTERPOLATE_IMAGES;
}

/// Whether MuPDF may halve \p image for \p ctm.
bool may_be_halved(const fz_image *image, fz_matrix ctm)
{
    return pixels_of(image) == nullptr && std::hypot(ctm.a, ctm.b) * 2 < static_cast<float>(image->w) &&
           std::hypot(ctm.c, ctm.d) * 2 < static_cast<float>(image->h);
}

template <auto Member, typename... Args>
void paint_picture(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, Args... args)
{
    const int before = device->hints;
    fz_image *painted =
        may_be_halved(image, ctm) ? new_unhalved_image(ctx, image) : fz_keep_image(ctx, image);
    fz_try(ctx)
    {
        device->hints = hints_for(device, image, ctm);
        Guarded<Member>::own(ctx, device, painted, ctm, args...);
    }
    fz_always(ctx)
    {
        device->hints = before;
        fz_drop_image(ctx, painted);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    if (alpha >= 1.0f || params.op != 0) {
        paint_picture<&fz_device::fill_image>(ctx, device, image, ctm, alpha, params);
        return;
    }
    // MuPDF empties the planes that a picture does not name, however faint it is; a group is laid on all
    // alike.
    fz_begin_group(ctx, device, fz_transform_rect(fz_unit_rect, ctm), nullptr, 1, 0, FZ_BLEND_NORMAL, alpha);
    fz_try(ctx)
    {
        paint_picture<&fz_device::fill_image>(ctx, device, image, ctm, 1.0f, params);
    }
    fz_always(ctx)
    {
        fz_end_group(ctx, device);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

/// What the guarded device of this thread paints, at most.
thread_local fz_irect painted_box = fz_empty_irect;

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    if (alpha >= 1.0f || params.op == 0) {
        Guarded<&fz_device::fill_shade>::own(ctx, device, shade, ctm, alpha, params);
        return;
    }
    // MuPDF lays a faint shading on all planes first, and then these on the page: it would knock out. As a
    // picture of its own planes it overprints.
    const fz_irect box = fz_intersect_irect(
        painted_box, fz_irect_from_rect(fz_intersect_rect(fz_bound_shade(ctx, shade, ctm),
                                                          fz_device_current_scissor(ctx, device))));
    if (fz_is_empty_irect(box)) {
        return;
    }
    fz_pixmap *pixels = nullptr;
    fz_image *image = nullptr;
    fz_var(pixels);
    fz_var(image);
    fz_try(ctx)
    {
        pixels = fz_new_pixmap_with_bbox(ctx, shade->colorspace, box, nullptr, 1);
        fz_clear_pixmap(ctx, pixels);
        fz_paint_shade(ctx, shade, nullptr, ctm, pixels, params, box, nullptr, nullptr);
        image = new_pixel_image(ctx, pixels, false);
        const fz_matrix place =
            fz_make_matrix(static_cast<float>(pixels->w), 0, 0, static_cast<float>(pixels->h),
                           static_cast<float>(box.x0), static_cast<float>(box.y0));
        paint_picture<&fz_device::fill_image>(ctx, device, image, place, alpha, params);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, pixels);
        fz_drop_image(ctx, image);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_colorspace *space,
                     const float *value, float alpha, fz_color_params params)
{
    paint_picture<&fz_device::fill_image_mask>(ctx, device, image, ctm, space, value, alpha, params);
}

void clip_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect scissor)
{
    paint_picture<&fz_device::clip_image_mask>(ctx, device, image, ctm, scissor);
}

template <auto... Members> struct AllGuarded
{
    static void remember(fz_device *device) { ((Guarded<Members>::own = device->*Members), ...); }
    static void replace(fz_device *device)
    {
        ((device->*Members = Tolerant<Guarded<Members>::paint>::call), ...);
    }
};

using Painting =
    AllGuarded<&fz_device::fill_path, &fz_device::stroke_path, &fz_device::fill_text, &fz_device::stroke_text,
               &fz_device::fill_shade, &fz_device::fill_image, &fz_device::fill_image_mask>;

/// Tones of planes as MuPDF, which cuts value × 255 down, has to be given them for the nearest of 256;
/// colours of masks stay as they are.
struct Tones
{
    float value[FZ_MAX_COLORS] = {};
    const float *use;

    Tones(fz_context *ctx, fz_colorspace *space, const float *given) : use(given)
    {
        const auto type = space == nullptr ? FZ_COLORSPACE_NONE : fz_colorspace_type(ctx, space);
        if (given == nullptr || (type != FZ_COLORSPACE_SEPARATION && type != FZ_COLORSPACE_CMYK)) {
            return;
        }
        for (int i = 0; i < fz_colorspace_n(ctx, space); ++i) {
            value[i] = (std::round(std::clamp(given[i], 0.0f, 1.0f) * 255.0f) + 0.25f) / 255.0f;
        }
        use = value;
    }
};

/// A function of one kind of device that paints a flat colour, with its tones made so.
template <bool Crisp, auto Member> struct Exact;
template <bool Crisp, typename... Args, void (*fz_device::*Member)(fz_context *, fz_device *, Args...)>
struct Exact<Crisp, Member>
{
    static inline void (*own)(fz_context *, fz_device *, Args...) = nullptr;
    static void paint(fz_context *ctx, fz_device *device, Args... args)
    {
        const auto all = std::tie(args...);
        const float *&value = std::get<const float *&>(all);
        const Tones tones(ctx, std::get<fz_colorspace *&>(all), value);
        value = tones.use;
        own(ctx, device, args...);
    }
};

template <bool Crisp, auto... Members> void make_exact(fz_device *device)
{
    static std::once_flag once;
    std::call_once(once, [device] { ((Exact<Crisp, Members>::own = device->*Members), ...); });
    ((device->*Members = Exact<Crisp, Members>::paint), ...);
}

template <bool Crisp> void make_flat_colours_exact(fz_device *device)
{
    make_exact<Crisp, &fz_device::fill_path, &fz_device::stroke_path, &fz_device::fill_text,
               &fz_device::stroke_text, &fz_device::fill_image_mask>(device);
}

} // namespace

void guard_draw_device(fz_device *draw_device, fz_irect box)
{
    painted_box = box;
    static std::once_flag once;
    std::call_once(once, [draw_device] {
        Painting::remember(draw_device);
        Guarded<&fz_device::clip_image_mask>::own = draw_device->clip_image_mask;
    });
    Painting::replace(draw_device);
    draw_device->fill_image = Tolerant<fill_image>::call;
    draw_device->fill_shade = Tolerant<fill_shade>::call;
    draw_device->fill_image_mask = Tolerant<fill_image_mask>::call;
    draw_device->clip_image_mask = clip_image_mask;
}

void make_tones_exact(fz_device *draw_device, bool crisp)
{
    crisp ? make_flat_colours_exact<true>(draw_device) : make_flat_colours_exact<false>(draw_device);
}

} // namespace bichrom
