#include "core/page/shape_device.h"

#include "core/artwork/mupdf/own_device.h"
#include "core/artwork/mupdf/type3.h"
#include "core/page/text_outlines.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

struct State
{
    PaintedShapes *painted = nullptr;
    std::vector<Polygons> clips; ///< each within those before it
    GlyphOutlines glyphs;
    void add(const Polygons &shapes)
    {
        painted->shapes.push_back(clips.empty() ? shapes : intersected(shapes, clips.back()));
    }
    void clip(const Polygons &shapes)
    {
        clips.push_back(clips.empty() ? shapes : intersected(shapes, clips.back()));
    }
};

State &state_of(fz_device *device)
{
    return OwnDevice<State>::of(device);
}

/// Lines of a path, curves as chords.
struct Flattener
{
    fz_matrix ctm;
    std::vector<std::pair<Polygon, bool>> lines; ///< and whether they are closed
    PolygonPoint at{};

    PolygonPoint point(float x, float y) const
    {
        const fz_point p = fz_transform_point_xy(x, y, ctm);
        return {static_cast<double>(p.x), static_cast<double>(p.y)};
    }
    void begin(PolygonPoint p)
    {
        lines.push_back({{p}, false});
        at = p;
    }
    void line(PolygonPoint p)
    {
        if (lines.empty() || lines.back().second) {
            begin(at);
        }
        lines.back().first.push_back(p);
        at = p;
    }
};

void move_to(fz_context *, void *to, float x, float y)
{
    auto &f = *static_cast<Flattener *>(to);
    f.begin(f.point(x, y));
}
void line_to(fz_context *, void *to, float x, float y)
{
    auto &f = *static_cast<Flattener *>(to);
    f.line(f.point(x, y));
}
void curve_to(fz_context *, void *to, float x1, float y1, float x2, float y2, float x3, float y3)
{
    auto &f = *static_cast<Flattener *>(to);
    const PolygonPoint a = f.at, b = f.point(x1, y1), c = f.point(x2, y2), d = f.point(x3, y3);
    const double length = std::hypot(b.x - a.x, b.y - a.y) + std::hypot(c.x - b.x, c.y - b.y) +
                          std::hypot(d.x - c.x, d.y - c.y);
    // A chord of n of a curve that long is off by less than length / (4 n²).
    constexpr double tolerance = 0.001; // points
    const int parts = std::clamp(static_cast<int>(std::ceil(std::sqrt(length / (4 * tolerance)))), 2, 1000);
    for (int i = 1; i <= parts; ++i) {
        const double t = static_cast<double>(i) / parts;
        const double s = 1 - t;
        const double wa = s * s * s, wb = 3 * s * s * t, wc = 3 * s * t * t, wd = t * t * t;
        f.line({wa * a.x + wb * b.x + wc * c.x + wd * d.x, wa * a.y + wb * b.y + wc * c.y + wd * d.y});
    }
}
void close(fz_context *, void *to)
{
    auto &f = *static_cast<Flattener *>(to);
    if (!f.lines.empty()) {
        f.lines.back().second = true;
        f.at = f.lines.back().first.front();
    }
}
constexpr fz_path_walker flattener = {move_to, line_to, curve_to, close, nullptr, nullptr, nullptr, nullptr};

Flattener flattened(fz_context *ctx, const fz_path *path, fz_matrix ctm)
{
    Flattener f{ctm, {}, {}};
    fz_walk_path(ctx, path, &flattener, &f);
    return f;
}

Polygons filled(const Flattener &f, bool even_odd)
{
    Polygons shapes;
    for (const auto &[line, closed] : f.lines) {
        shapes.push_back(line);
    }
    return simplified(shapes, even_odd ? FillRule::EvenOdd : FillRule::NonZero);
}

Polygons letters(fz_context *ctx, const fz_text *text, fz_matrix ctm, GlyphOutlines &glyphs)
{
    Polygons all;
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        for (int i = 0; i < span->len; ++i) {
            if (span->items[i].gid < 0) {
                continue;
            }
            fz_path *outline = glyphs.outline(ctx, span->font, span->items[i].gid,
                                              glyph_matrix(span, span->items[i], fz_identity));
            if (outline != nullptr) {
                const Polygons letter = filled(flattened(ctx, outline, ctm), false);
                fz_drop_path(ctx, outline);
                all.insert(all.end(), letter.begin(), letter.end());
            }
        }
    }
    return simplified(all, FillRule::NonZero);
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *, const float *, float alpha, fz_color_params)
{
    State &s = state_of(device);
    s.painted->exact = s.painted->exact && alpha >= 1.0f;
    s.add(filled(flattened(ctx, path, ctm), even_odd != 0));
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *, const float *, float alpha, fz_color_params)
{
    State &s = state_of(device);
    const double across = std::hypot(static_cast<double>(ctm.a), static_cast<double>(ctm.b));
    const double down = std::hypot(static_cast<double>(ctm.c), static_cast<double>(ctm.d));
    const bool even = std::fabs(across - down) <= 1e-3 * across &&
                      std::fabs(static_cast<double>(ctm.a * ctm.c + ctm.b * ctm.d)) <= 1e-3 * across * down;
    const bool plain = stroke->dash_len == 0 && stroke->linewidth > 0 &&
                       (stroke->linejoin == FZ_LINEJOIN_MITER || stroke->linejoin == FZ_LINEJOIN_ROUND) &&
                       stroke->start_cap <= FZ_LINECAP_SQUARE && stroke->start_cap == stroke->end_cap;
    s.painted->exact = s.painted->exact && alpha >= 1.0f && even && plain;
    if (!s.painted->exact) {
        return;
    }
    const LineEnd end = stroke->start_cap == FZ_LINECAP_ROUND  ? LineEnd::Round
                        : stroke->start_cap == FZ_LINECAP_BUTT ? LineEnd::Butt
                                                               : LineEnd::Square;
    Polygons all;
    for (const auto &[line, closed] : flattened(ctx, path, ctm).lines) {
        const Polygons one =
            stroked(line, closed, static_cast<double>(stroke->linewidth) * across,
                    stroke->linejoin == FZ_LINEJOIN_ROUND ? LineJoin::Round : LineJoin::Miter,
                    static_cast<double>(stroke->miterlimit), end);
        all.insert(all.end(), one.begin(), one.end());
    }
    s.add(simplified(all, FillRule::NonZero));
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *,
               const float *, float alpha, fz_color_params)
{
    State &s = state_of(device);
    s.painted->exact = s.painted->exact && alpha >= 1.0f && has_outlines(ctx, text, s.glyphs);
    s.add(letters(ctx, text, ctm, s.glyphs));
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm, fz_rect)
{
    state_of(device).clip(filled(flattened(ctx, path, ctm), even_odd != 0));
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    s.painted->exact = s.painted->exact && has_outlines(ctx, text, s.glyphs);
    s.clip(letters(ctx, text, ctm, s.glyphs));
}

void pop_clip(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    if (!s.clips.empty()) {
        s.clips.pop_back();
    }
}

/// Opens a clip that is no flat shape.
void inexact_clip(State &s)
{
    s.painted->exact = false;
    s.clips.push_back({});
}

void stroke_text(fz_context *, fz_device *device, const fz_text *, const fz_stroke_state *, fz_matrix,
                 fz_colorspace *, const float *, float, fz_color_params)
{
    state_of(device).painted->exact = false;
}
void clip_stroke_path(fz_context *, fz_device *device, const fz_path *, const fz_stroke_state *, fz_matrix,
                      fz_rect)
{
    inexact_clip(state_of(device));
}
void clip_stroke_text(fz_context *, fz_device *device, const fz_text *, const fz_stroke_state *, fz_matrix,
                      fz_rect)
{
    inexact_clip(state_of(device));
}
void clip_image_mask(fz_context *, fz_device *device, fz_image *, fz_matrix, fz_rect)
{
    inexact_clip(state_of(device));
}
void fill_shade(fz_context *, fz_device *device, fz_shade *, fz_matrix, float, fz_color_params)
{
    state_of(device).painted->exact = false;
}
void fill_image(fz_context *, fz_device *device, fz_image *, fz_matrix, float, fz_color_params)
{
    state_of(device).painted->exact = false;
}
void fill_image_mask(fz_context *, fz_device *device, fz_image *, fz_matrix, fz_colorspace *, const float *,
                     float, fz_color_params)
{
    state_of(device).painted->exact = false;
}
void begin_mask(fz_context *, fz_device *device, fz_rect, int, fz_colorspace *, const float *,
                fz_color_params)
{
    state_of(device).painted->exact = false;
}
void end_mask(fz_context *, fz_device *device)
{
    inexact_clip(state_of(device));
}
void begin_group(fz_context *, fz_device *device, fz_rect, fz_colorspace *, int, int, int, float alpha)
{
    State &s = state_of(device);
    s.painted->exact = s.painted->exact && alpha >= 1.0f;
}
int begin_tile(fz_context *, fz_device *device, fz_rect, fz_rect, float, float, fz_matrix, int)
{
    state_of(device).painted->exact = false;
    return 0;
}

} // namespace

fz_device *new_shape_device(fz_context *ctx, PaintedShapes &painted)
{
    OwnDevice<State> *device = OwnDevice<State>::make(ctx);
    device->state->painted = &painted;
    fz_device &d = device->super;
    d.fill_path = fill_path;
    d.stroke_path = stroke_path;
    d.fill_text = fill_text;
    d.stroke_text = stroke_text;
    d.fill_shade = fill_shade;
    d.fill_image = fill_image;
    d.fill_image_mask = fill_image_mask;
    d.clip_path = clip_path;
    d.clip_stroke_path = clip_stroke_path;
    d.clip_text = clip_text;
    d.clip_stroke_text = clip_stroke_text;
    d.clip_image_mask = clip_image_mask;
    d.pop_clip = pop_clip;
    d.begin_mask = begin_mask;
    d.end_mask = end_mask;
    d.begin_group = begin_group;
    d.begin_tile = begin_tile;
    return &d;
}

} // namespace bichrom
