#include "core/page/thin_shapes.h"

#include "core/artwork/mupdf/notes.h"
#include "core/page/path_copy.h"

#include <cmath>
#include <mutex>

namespace bichrom {

namespace {

/// Copies a path into the device's pixels, and the pixels of its thin contours. Nothing here has a
/// destructor: MuPDF's errors jump.
struct ThinWalker
{
    fz_matrix ctm;
    fz_path *copy;
    fz_path *pixels;
    fz_rect bounds;
    bool open;
    bool any;
};

constexpr float far = 1e9f;
constexpr fz_rect nothing = {far, far, -far, -far};

ThinWalker &of(void *walker)
{
    return *static_cast<ThinWalker *>(walker);
}

fz_point placed(ThinWalker &w, float x, float y)
{
    const fz_point p = fz_transform_point_xy(x, y, w.ctm);
    w.bounds = {fz_min(w.bounds.x0, p.x), fz_min(w.bounds.y0, p.y), fz_max(w.bounds.x1, p.x),
                fz_max(w.bounds.y1, p.y)};
    return p;
}

bool holds_a_centre(float from, float to)
{
    return std::ceil(from - 0.5f) < std::ceil(to - 0.5f);
}

void end_contour(fz_context *ctx, ThinWalker &w)
{
    const fz_rect &b = w.bounds;
    if (w.open && (!holds_a_centre(b.x0, b.x1) || !holds_a_centre(b.y0, b.y1))) {
        const auto widened = [](float &from, float &to) {
            if (!holds_a_centre(from, to)) {
                from = std::floor((from + to) / 2);
                to = from + 1;
            }
        };
        fz_rect pixels = b;
        widened(pixels.x0, pixels.x1);
        widened(pixels.y0, pixels.y1);
        fz_rectto(ctx, w.pixels, pixels.x0, pixels.y0, pixels.x1, pixels.y1);
        w.any = true;
    }
    w.bounds = nothing;
    w.open = false;
}

constexpr fz_path_walker thin_walker = {
    [](fz_context *ctx, void *w, float x, float y) {
        end_contour(ctx, of(w));
        const fz_point p = placed(of(w), x, y);
        fz_moveto(ctx, of(w).copy, p.x, p.y);
    },
    [](fz_context *ctx, void *w, float x, float y) {
        const fz_point p = placed(of(w), x, y);
        of(w).open = true;
        fz_lineto(ctx, of(w).copy, p.x, p.y);
    },
    [](fz_context *ctx, void *w, float x1, float y1, float x2, float y2, float x3, float y3) {
        const fz_point a = placed(of(w), x1, y1), b = placed(of(w), x2, y2), c = placed(of(w), x3, y3);
        of(w).open = true;
        fz_curveto(ctx, of(w).copy, a.x, a.y, b.x, b.y, c.x, c.y);
    },
    [](fz_context *ctx, void *w) { fz_closepath(ctx, of(w).copy); },
    nullptr,
    nullptr,
    nullptr,
    nullptr};

decltype(fz_device::fill_path) draw_fill = nullptr; // the same for all draw devices

void fill(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
          fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    ThinWalker walker = {ctm, nullptr, nullptr, nothing, false, false};
    fz_var(walker);
    fz_try(ctx)
    {
        walker.copy = fz_new_path(ctx);
        walker.pixels = fz_new_path(ctx);
        fz_walk_path(ctx, path, &thin_walker, &walker);
        end_contour(ctx, walker);
        if (walker.any) {
            append_path(ctx, walker.pixels, walker.copy);
            draw_fill(ctx, device, walker.copy, even_odd, fz_identity, space, value, alpha, params);
        } else {
            draw_fill(ctx, device, path, even_odd, ctm, space, value, alpha, params);
        }
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, walker.copy);
        fz_drop_path(ctx, walker.pixels);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

} // namespace

void keep_thin_shapes(fz_device *draw_device)
{
    static std::once_flag once;
    std::call_once(once, [draw_device] { draw_fill = draw_device->fill_path; });
    draw_device->fill_path = Tolerant<fill>::call;
}

} // namespace bichrom
