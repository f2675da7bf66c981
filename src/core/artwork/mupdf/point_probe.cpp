#include "core/artwork/mupdf/point_probe.h"

#include <algorithm>

namespace bichrom {

namespace {

constexpr float scale = 4.0f; // a quarter of a point: what a pointer can aim at

} // namespace

bool PointProbe::may_touch(fz_rect bounds) const
{
    const float near = 0.5f / scale;
    return m_x >= bounds.x0 - near && m_x <= bounds.x1 + near && m_y >= bounds.y0 - near &&
           m_y <= bounds.y1 + near &&
           std::all_of(m_clips.begin(), m_clips.end(), [](bool holds) { return holds; });
}

/// Paints onto one pixel around the point and looks whether anything arrived.
template <typename Paint> bool PointProbe::try_painting(fz_context *ctx, Paint paint) const
{
    fz_pixmap *pixel = nullptr;
    fz_device *device = nullptr;
    unsigned char alpha = 0;
    fz_var(pixel);
    fz_var(device);
    fz_var(alpha);
    fz_try(ctx)
    {
        pixel = fz_new_pixmap(ctx, fz_device_gray(ctx), 1, 1, nullptr, 1);
        fz_clear_pixmap(ctx, pixel);
        const fz_matrix place =
            fz_concat(fz_translate(-m_x + 0.5f / scale, -m_y + 0.5f / scale), fz_scale(scale, scale));
        device = fz_new_draw_device(ctx, place, pixel);
        paint(device);
        fz_close_device(ctx, device);
        alpha = pixel->samples[1];
    }
    fz_always(ctx)
    {
        fz_drop_device(ctx, device);
        fz_drop_pixmap(ctx, pixel);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return alpha > 0;
}

bool PointProbe::fills(fz_context *ctx, const fz_path *path, int even_odd, fz_matrix ctm) const
{
    const float black = 0;
    return try_painting(ctx, [&](fz_device *device) {
        fz_fill_path(ctx, device, path, even_odd, ctm, fz_device_gray(ctx), &black, 1.0f,
                     fz_default_color_params);
    });
}

bool PointProbe::strokes(fz_context *ctx, const fz_path *path, const fz_stroke_state *stroke,
                         fz_matrix ctm) const
{
    const float black = 0;
    return try_painting(ctx, [&](fz_device *device) {
        fz_stroke_path(ctx, device, path, stroke, ctm, fz_device_gray(ctx), &black, 1.0f,
                       fz_default_color_params);
    });
}

bool PointProbe::writes(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke,
                        fz_matrix ctm) const
{
    const float black = 0;
    return try_painting(ctx, [&](fz_device *device) {
        if (stroke != nullptr) {
            fz_stroke_text(ctx, device, text, stroke, ctm, fz_device_gray(ctx), &black, 1.0f,
                           fz_default_color_params);
        } else {
            fz_fill_text(ctx, device, text, ctm, fz_device_gray(ctx), &black, 1.0f, fz_default_color_params);
        }
    });
}

bool PointProbe::covers(fz_matrix ctm) const
{
    const fz_point inside = fz_transform_point(fz_make_point(m_x, m_y), fz_invert_matrix(ctm));
    return inside.x >= 0 && inside.x <= 1 && inside.y >= 0 && inside.y <= 1;
}

} // namespace bichrom
