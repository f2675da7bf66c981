#include "core/page/draw_guard.h"

#include "core/artwork/mupdf/notes.h"

#include <algorithm>
#include <cmath>
#include <mutex>

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

template <auto Member, typename... Args>
void paint_picture(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, Args... args)
{
    const int before = device->hints;
    fz_try(ctx)
    {
        device->hints = hints_for(device, image, ctm);
        Guarded<Member>::own(ctx, device, image, ctm, args...);
    }
    fz_always(ctx)
    {
        device->hints = before;
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    paint_picture<&fz_device::fill_image>(ctx, device, image, ctm, alpha, params);
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

/// The functions of one kind of device that paint a flat colour, before which its tones are rounded.
template <bool Crisp> struct Exact
{
    static inline decltype(fz_device::fill_path) fill = nullptr;
    static inline decltype(fz_device::stroke_path) stroke = nullptr;
    static inline decltype(fz_device::fill_text) text = nullptr;
    static inline decltype(fz_device::stroke_text) stroked_text = nullptr;
    static inline decltype(fz_device::fill_image_mask) stencil = nullptr;

    /// Tones of planes; colours of masks stay as they are.
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

    static void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd,
                          fz_matrix ctm, fz_colorspace *space, const float *value, float alpha,
                          fz_color_params params)
    {
        const Tones tones(ctx, space, value);
        fill(ctx, device, path, even_odd, ctm, space, tones.use, alpha, params);
    }
    static void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path,
                            const fz_stroke_state *state, fz_matrix ctm, fz_colorspace *space,
                            const float *value, float alpha, fz_color_params params)
    {
        const Tones tones(ctx, space, value);
        stroke(ctx, device, path, state, ctm, space, tones.use, alpha, params);
    }
    static void fill_text(fz_context *ctx, fz_device *device, const fz_text *words, fz_matrix ctm,
                          fz_colorspace *space, const float *value, float alpha, fz_color_params params)
    {
        const Tones tones(ctx, space, value);
        text(ctx, device, words, ctm, space, tones.use, alpha, params);
    }
    static void stroke_text(fz_context *ctx, fz_device *device, const fz_text *words,
                            const fz_stroke_state *state, fz_matrix ctm, fz_colorspace *space,
                            const float *value, float alpha, fz_color_params params)
    {
        const Tones tones(ctx, space, value);
        stroked_text(ctx, device, words, state, ctm, space, tones.use, alpha, params);
    }
    static void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm,
                                fz_colorspace *space, const float *value, float alpha, fz_color_params params)
    {
        const Tones tones(ctx, space, value);
        stencil(ctx, device, image, ctm, space, tones.use, alpha, params);
    }
    static void wrap(fz_device *device)
    {
        static std::once_flag once;
        std::call_once(once, [device] {
            fill = device->fill_path;
            stroke = device->stroke_path;
            text = device->fill_text;
            stroked_text = device->stroke_text;
            stencil = device->fill_image_mask;
        });
        device->fill_path = fill_path;
        device->stroke_path = stroke_path;
        device->fill_text = fill_text;
        device->stroke_text = stroke_text;
        device->fill_image_mask = fill_image_mask;
    }
};

} // namespace

void guard_draw_device(fz_device *draw_device)
{
    static std::once_flag once;
    std::call_once(once, [draw_device] {
        Painting::remember(draw_device);
        Guarded<&fz_device::clip_image_mask>::own = draw_device->clip_image_mask;
    });
    Painting::replace(draw_device);
    draw_device->fill_image = Tolerant<fill_image>::call;
    draw_device->fill_image_mask = Tolerant<fill_image_mask>::call;
    draw_device->clip_image_mask = clip_image_mask;
}

void make_tones_exact(fz_device *draw_device, bool crisp)
{
    crisp ? Exact<true>::wrap(draw_device) : Exact<false>::wrap(draw_device);
}

} // namespace bichrom
