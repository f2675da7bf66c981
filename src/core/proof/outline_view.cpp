#include "core/proof/outline_view.h"

#include "core/artwork/mupdf/page_content_impl.h"
#include "core/page/text_outlines.h"

namespace bichrom {

namespace {

/// Forwards every object to \c target as hairlines.
struct OutlineDevice
{
    fz_device super;
    fz_device *target;
    fz_stroke_state *hairline;
    GlyphOutlines *glyphs;
};

OutlineDevice *self(fz_device *device)
{
    return reinterpret_cast<OutlineDevice *>(device);
}

/// A transformed copy of a path; paths in display lists are packed, and those cannot be transformed.
struct PathCopy
{
    fz_path *path;
    fz_matrix ctm;
};

void copy_move(fz_context *ctx, void *to, float x, float y)
{
    const auto *copy = static_cast<const PathCopy *>(to);
    const fz_point p = fz_transform_point_xy(x, y, copy->ctm);
    fz_moveto(ctx, copy->path, p.x, p.y);
}

void copy_line(fz_context *ctx, void *to, float x, float y)
{
    const auto *copy = static_cast<const PathCopy *>(to);
    const fz_point p = fz_transform_point_xy(x, y, copy->ctm);
    fz_lineto(ctx, copy->path, p.x, p.y);
}

void copy_curve(fz_context *ctx, void *to, float x1, float y1, float x2, float y2, float x3, float y3)
{
    const auto *copy = static_cast<const PathCopy *>(to);
    const fz_point a = fz_transform_point_xy(x1, y1, copy->ctm);
    const fz_point b = fz_transform_point_xy(x2, y2, copy->ctm);
    const fz_point c = fz_transform_point_xy(x3, y3, copy->ctm);
    fz_curveto(ctx, copy->path, a.x, a.y, b.x, b.y, c.x, c.y);
}

void copy_close(fz_context *ctx, void *to)
{
    fz_closepath(ctx, static_cast<const PathCopy *>(to)->path);
}

const fz_path_walker copying = {copy_move, copy_line, copy_curve, copy_close,
                                nullptr,   nullptr,   nullptr,    nullptr};

const float white = 1.0f; // on black, so that the pixels come out as 0 = paper, 255 = line

void draw(fz_context *ctx, fz_device *device, const fz_path *path, fz_matrix ctm)
{
    // Stroked in device space, so that every line is one pixel wide whatever the zoom and the matrix.
    OutlineDevice *outline = self(device);
    fz_path *copy = fz_new_path(ctx);
    fz_try(ctx)
    {
        PathCopy to = {copy, ctm};
        fz_walk_path(ctx, path, &copying, &to);
        fz_stroke_path(ctx, outline->target, copy, outline->hairline, fz_identity, fz_device_gray(ctx),
                       &white, 1.0f, fz_default_color_params);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, copy);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int, fz_matrix ctm, fz_colorspace *,
               const float *, float, fz_color_params)
{
    draw(ctx, device, path, ctm);
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *,
                 fz_matrix ctm, fz_colorspace *, const float *, float, fz_color_params)
{
    draw(ctx, device, path, ctm);
}

/// A frame around \p area with both diagonals.
void draw_frame(fz_context *ctx, fz_device *device, fz_rect area, fz_matrix ctm)
{
    fz_path *path = fz_new_path(ctx);
    fz_try(ctx)
    {
        fz_rectto(ctx, path, area.x0, area.y0, area.x1, area.y1);
        fz_moveto(ctx, path, area.x0, area.y0);
        fz_lineto(ctx, path, area.x1, area.y1);
        fz_moveto(ctx, path, area.x0, area.y1);
        fz_lineto(ctx, path, area.x1, area.y0);
        draw(ctx, device, path, ctm);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, path);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void draw_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm)
{
    GlyphOutlines &glyphs = *self(device)->glyphs;
    if (has_outlines(ctx, text, glyphs)) {
        fill_text_outlines(ctx, device, text, ctm, fz_device_gray(ctx), &white, 1.0f, fz_default_color_params,
                           glyphs); // comes back as paths
    } else {
        draw_frame(ctx, device, fz_bound_text(ctx, text, nullptr, ctm), fz_identity);
    }
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *,
               const float *, float, fz_color_params)
{
    draw_text(ctx, device, text, ctm);
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *,
                 fz_matrix ctm, fz_colorspace *, const float *, float, fz_color_params)
{
    draw_text(ctx, device, text, ctm);
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *, fz_matrix ctm, float, fz_color_params)
{
    draw_frame(ctx, device, fz_unit_rect, ctm);
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *, fz_matrix ctm, fz_colorspace *,
                     const float *, float, fz_color_params)
{
    draw_frame(ctx, device, fz_unit_rect, ctm);
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float, fz_color_params)
{
    const fz_rect area =
        fz_intersect_rect(fz_bound_shade(ctx, shade, ctm), fz_device_current_scissor(ctx, device));
    if (!fz_is_empty_rect(area) && !fz_is_infinite_rect(area)) {
        draw_frame(ctx, device, area, fz_identity);
    }
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_rect scissor)
{
    fz_clip_path(ctx, self(device)->target, path, even_odd, ctm, scissor);
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    fz_clip_stroke_path(ctx, self(device)->target, path, stroke, ctm, scissor);
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect scissor)
{
    fz_clip_text(ctx, self(device)->target, text, ctm, scissor);
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    fz_clip_stroke_text(ctx, self(device)->target, text, stroke, ctm, scissor);
}

void clip_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect scissor)
{
    fz_clip_image_mask(ctx, self(device)->target, image, ctm, scissor);
}

void pop_clip(fz_context *ctx, fz_device *device)
{
    fz_pop_clip(ctx, self(device)->target);
}

// A soft mask's contents are drawn like everything else, and hide nothing.
void begin_mask(fz_context *, fz_device *, fz_rect, int, fz_colorspace *, const float *, fz_color_params) {}

void end_mask(fz_context *ctx, fz_device *device)
{
    // From here on a clip is open that somebody pops.
    fz_path *path = fz_new_path(ctx);
    fz_try(ctx)
    {
        fz_rectto(ctx, path, -1e6f, -1e6f, 1e6f, 1e6f);
        fz_clip_path(ctx, self(device)->target, path, 0, fz_identity, fz_infinite_rect);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, path);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

int begin_tile(fz_context *ctx, fz_device *device, fz_rect area, fz_rect view, float xstep, float ystep,
               fz_matrix ctm, int id)
{
    return fz_begin_tile_id(ctx, self(device)->target, area, view, xstep, ystep, ctm, id);
}

void end_tile(fz_context *ctx, fz_device *device)
{
    fz_end_tile(ctx, self(device)->target);
}

void drop_device(fz_context *ctx, fz_device *device)
{
    fz_drop_stroke_state(ctx, self(device)->hairline);
}

/// Draws onto \p target, which must outlive it, as must \p glyphs. Throws by MuPDF's means.
fz_device *new_outline_device(fz_context *ctx, fz_device *target, GlyphOutlines &glyphs)
{
    OutlineDevice *device = fz_new_derived_device(ctx, OutlineDevice);
    device->super.drop_device = drop_device;
    device->super.fill_path = fill_path;
    device->super.stroke_path = stroke_path;
    device->super.fill_text = fill_text;
    device->super.stroke_text = stroke_text;
    device->super.fill_image = fill_image;
    device->super.fill_image_mask = fill_image_mask;
    device->super.fill_shade = fill_shade;
    device->super.clip_path = clip_path;
    device->super.clip_stroke_path = clip_stroke_path;
    device->super.clip_text = clip_text;
    device->super.clip_stroke_text = clip_stroke_text;
    device->super.clip_image_mask = clip_image_mask;
    device->super.pop_clip = pop_clip;
    device->super.begin_mask = begin_mask;
    device->super.end_mask = end_mask;
    device->super.begin_tile = begin_tile;
    device->super.end_tile = end_tile;
    device->target = target;
    device->glyphs = &glyphs;
    fz_try(ctx)
    {
        device->hairline = fz_new_stroke_state(ctx);
        device->hairline->linewidth = 1;
    }
    fz_catch(ctx)
    {
        fz_drop_device(ctx, &device->super);
        fz_rethrow(ctx);
    }
    return &device->super;
}

} // namespace

Outcome<std::vector<std::uint8_t>> OutlineView::render(PixelRect rect, Dpi resolution) const
{
    const PageContent::Impl &content = m_page->impl();
    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    std::vector<std::uint8_t> pixels(static_cast<std::size_t>(rect.width) *
                                     static_cast<std::size_t>(rect.height));
    const auto scale = static_cast<float>(resolution.value / points_per_inch);
    GlyphOutlines glyphs;
    const Done done = guarded(ctx, content.place, [&] {
        fz_pixmap *pixmap = nullptr;
        fz_device *draw_device = nullptr;
        fz_device *device = nullptr;
        fz_var(pixmap);
        fz_var(draw_device);
        fz_var(device);
        fz_try(ctx)
        {
            const fz_irect box = {rect.x, rect.y, rect.x + rect.width, rect.y + rect.height};
            pixmap =
                fz_new_pixmap_with_bbox_and_data(ctx, fz_device_gray(ctx), box, nullptr, 0, pixels.data());
            draw_device = fz_new_draw_device(ctx, fz_identity, pixmap);
            device = new_outline_device(ctx, draw_device, glyphs);
            fz_run_display_list(ctx, content.list, device, fz_scale(scale, scale), fz_rect_from_irect(box),
                                nullptr);
            fz_close_device(ctx, device);
            fz_close_device(ctx, draw_device);
        }
        fz_always(ctx)
        {
            fz_drop_device(ctx, device);
            fz_drop_device(ctx, draw_device);
            fz_drop_pixmap(ctx, pixmap);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
    if (!done) {
        return done.error();
    }
    return pixels;
}

} // namespace bichrom
