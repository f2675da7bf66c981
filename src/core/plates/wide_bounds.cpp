#include "core/plates/wide_bounds.h"

#include "core/artwork/mupdf/notes.h"

#include <mutex>

namespace bichrom {

namespace {

// fz_walk_path only calls these; the first argument it passes on is the path to append to.
void append_move(fz_context *ctx, void *to, float x, float y)
{
    fz_moveto(ctx, static_cast<fz_path *>(to), x, y);
}
void append_line(fz_context *ctx, void *to, float x, float y)
{
    fz_lineto(ctx, static_cast<fz_path *>(to), x, y);
}
void append_curve(fz_context *ctx, void *to, float x1, float y1, float x2, float y2, float x3, float y3)
{
    fz_curveto(ctx, static_cast<fz_path *>(to), x1, y1, x2, y2, x3, y3);
}
void append_close(fz_context *ctx, void *to)
{
    fz_closepath(ctx, static_cast<fz_path *>(to));
}

constexpr fz_path_walker appender = {append_move, append_line, append_curve, append_close,
                                     nullptr,     nullptr,     nullptr,      nullptr};

void append_quad(fz_context *ctx, void *to, float x1, float y1, float x2, float y2)
{
    fz_quadto(ctx, static_cast<fz_path *>(to), x1, y1, x2, y2);
}
void append_first_curve(fz_context *ctx, void *to, float x2, float y2, float x3, float y3)
{
    fz_curvetov(ctx, static_cast<fz_path *>(to), x2, y2, x3, y3);
}
void append_last_curve(fz_context *ctx, void *to, float x1, float y1, float x3, float y3)
{
    fz_curvetoy(ctx, static_cast<fz_path *>(to), x1, y1, x3, y3);
}
void append_rect(fz_context *ctx, void *to, float x1, float y1, float x2, float y2)
{
    fz_rectto(ctx, static_cast<fz_path *>(to), x1, y1, x2, y2);
}

/// Keeps every kind of segment: rectangles are painted otherwise than four lines.
constexpr fz_path_walker copier = {append_move, append_line,        append_curve,      append_close,
                                   append_quad, append_first_curve, append_last_curve, append_rect};

struct Line
{
    fz_point from, to;
};

/// \p path and a line given in page space. Keeps \p path as it is when the matrix cannot be inverted.
fz_path *with_line(fz_context *ctx, const fz_path *path, fz_matrix ctm, const Line &line, bool close)
{
    fz_path *copy = fz_new_path(ctx);
    fz_try(ctx)
    {
        append_path(ctx, path, copy);
        fz_matrix inverse;
        if (fz_try_invert_matrix(&inverse, ctm) == 0) {
            const fz_point from = fz_transform_point(line.from, inverse);
            const fz_point to = fz_transform_point(line.to, inverse);
            fz_moveto(ctx, copy, from.x, from.y);
            fz_lineto(ctx, copy, to.x, to.y);
            if (close) {
                fz_closepath(ctx, copy);
            }
        }
    }
    fz_catch(ctx)
    {
        fz_drop_path(ctx, copy);
        fz_rethrow(ctx);
    }
    return copy;
}

fz_path *with_wide_bounds(fz_context *ctx, const fz_path *path, fz_matrix ctm)
{
    constexpr float beyond = 2.0f; // device pixels
    const fz_rect bounds = fz_bound_path(ctx, path, nullptr, ctm);
    return with_line(ctx, path, ctm, {{bounds.x1 + beyond, bounds.y0}, {bounds.x1 + beyond, bounds.y1}},
                     true);
}

fz_path *with_wide_stroke_bounds(fz_context *ctx, const fz_path *path, fz_matrix ctm)
{
    constexpr float far = 1'000'000.0f; // device pixels; the largest film has 131072 on a side
    const fz_rect bounds = fz_bound_path(ctx, path, nullptr, ctm);
    const float middle = (bounds.y0 + bounds.y1) / 2;
    return with_line(ctx, path, ctm, {{far, middle}, {far + 1.0f, middle}}, false);
}

// The draw device's own functions, the same for all draw devices.
decltype(fz_device::fill_path) draw_fill = nullptr;
decltype(fz_device::stroke_path) draw_stroke = nullptr;

void fill(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
          fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    fz_path *wide = with_wide_bounds(ctx, path, ctm);
    fz_try(ctx)
    {
        draw_fill(ctx, device, wide, even_odd, ctm, space, value, alpha, params);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, wide);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void stroke(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *state,
            fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    fz_path *wide = with_wide_stroke_bounds(ctx, path, ctm);
    fz_try(ctx)
    {
        draw_stroke(ctx, device, wide, state, ctm, space, value, alpha, params);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, wide);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

} // namespace

void append_path(fz_context *ctx, const fz_path *path, fz_path *to)
{
    fz_walk_path(ctx, path, &appender, to);
}

fz_path *unpacked(fz_context *ctx, const fz_path *path)
{
    fz_path *copy = fz_new_path(ctx);
    fz_try(ctx)
    {
        fz_walk_path(ctx, path, &copier, copy);
    }
    fz_catch(ctx)
    {
        fz_drop_path(ctx, copy);
        fz_rethrow(ctx);
    }
    return copy;
}

void keep_last_column(fz_device *draw_device)
{
    static std::once_flag once;
    std::call_once(once, [draw_device] {
        draw_fill = draw_device->fill_path;
        draw_stroke = draw_device->stroke_path;
    });
    draw_device->fill_path = Tolerant<fill>::call;
    draw_device->stroke_path = Tolerant<stroke>::call;
}

} // namespace bichrom
