#include "core/page/crisp_device.h"

#include "core/artwork/mupdf/notes.h"
#include "core/page/runs/outlines.h"
#include "core/raster/shape_list.h"

#include <mutex>
#include <optional>
#include <vector>

namespace bichrom {

namespace {

/// Where shapes are found: pixels of \c page, of which only \c part is looked at; (dx, dy) of the device is
/// its top left.
struct Frame
{
    PixelRect page, part;
    int dx = 0, dy = 0;
};

/// What a thread paints, and memory for it. Callbacks hold nothing with a destructor: MuPDF's errors jump.
struct Crisp
{
    Frame frame;
    std::vector<Frame> outer; ///< of the cells of patterns that are open, and the page
    std::optional<ShapeList> shapes;
    RowFiller filler;
    GlyphOutlines glyphs;
    std::vector<PixelRect> inked; ///< of the shape closed last
};

thread_local std::optional<Crisp> of_thread;

/// The matrix into pixels of the frame.
fz_matrix here(fz_matrix ctm)
{
    ctm.e -= static_cast<float>(of_thread->frame.dx);
    ctm.f -= static_cast<float>(of_thread->frame.dy);
    return ctm;
}

/// Opens a shape.
ShapeList &begin(bool even_odd, bool keep_slivers)
{
    Crisp &crisp = *of_thread;
    crisp.shapes.emplace(crisp.frame.page.width, crisp.frame.page.height);
    crisp.shapes->begin(even_odd, keep_slivers);
    return *crisp.shapes;
}

/// Closes it and finds what it inks of the part; rows alike are joined.
void end()
{
    Crisp &crisp = *of_thread;
    crisp.inked.clear();
    const int number = crisp.shapes->end();
    if (number < 0) {
        return;
    }
    std::size_t above = 0; // where the rectangles of the row above begin
    int last_row = -2;
    const PixelRect &part = crisp.frame.part;
    crisp.filler.fill(*crisp.shapes, crisp.shapes->shape(number), part.y, part.y + part.height,
                      crisp.frame.page.width, [&](int row, std::span<const InkSpan> spans) {
                          bool alike = row == last_row + 1 && crisp.inked.size() - above == spans.size();
                          for (std::size_t i = 0; alike && i < spans.size(); ++i) {
                              const PixelRect &r = crisp.inked[above + i];
                              alike = r.x == spans[i].begin && r.width == spans[i].end - spans[i].begin;
                          }
                          last_row = row;
                          if (alike) {
                              for (std::size_t i = 0; i < spans.size(); ++i) {
                                  ++crisp.inked[above + i].height;
                              }
                              return;
                          }
                          above = crisp.inked.size();
                          for (const InkSpan &span : spans) {
                              crisp.inked.push_back({span.begin, row, span.end - span.begin, 1});
                          }
                      });
}

/// The pixels that were inked as a path. New reference.
fz_path *pixel_path(fz_context *ctx)
{
    fz_path *path = fz_new_path(ctx);
    fz_try(ctx)
    {
        const int dx = of_thread->frame.dx, dy = of_thread->frame.dy;
        for (const PixelRect &r : of_thread->inked) {
            fz_rectto(ctx, path, static_cast<float>(r.x + dx), static_cast<float>(r.y + dy),
                      static_cast<float>(r.x + r.width + dx), static_cast<float>(r.y + r.height + dy));
        }
    }
    fz_catch(ctx)
    {
        fz_drop_path(ctx, path);
        fz_rethrow(ctx);
    }
    return path;
}

// The draw device's own functions, the same for all draw devices.
decltype(fz_device::fill_path) draw_fill = nullptr;
decltype(fz_device::clip_path) draw_clip = nullptr;
decltype(fz_device::fill_text) draw_text = nullptr;
decltype(fz_device::stroke_text) draw_stroked_text = nullptr;
decltype(fz_device::clip_text) draw_text_clip = nullptr;
decltype(fz_device::clip_stroke_text) draw_stroked_text_clip = nullptr;
decltype(fz_device::begin_tile) draw_begin_tile = nullptr;
decltype(fz_device::end_tile) draw_end_tile = nullptr;

/// Paints the shape closed last.
void paint(fz_context *ctx, fz_device *device, fz_colorspace *space, const float *value, float alpha,
           fz_color_params params)
{
    end();
    if (of_thread->inked.empty()) {
        return;
    }
    fz_path *path = pixel_path(ctx);
    fz_try(ctx)
    {
        draw_fill(ctx, device, path, 0, fz_identity, space, value, alpha, params);
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

/// Clips by the shape closed last.
void clip(fz_context *ctx, fz_device *device, fz_rect scissor)
{
    end();
    fz_path *path = pixel_path(ctx);
    fz_try(ctx)
    {
        draw_clip(ctx, device, path, 0, fz_identity, scissor);
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

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    add_fill(ctx, path, here(ctm), begin(even_odd != 0, true));
    paint(ctx, device, space, value, alpha, params);
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    add_stroke(ctx, path, *stroke, here(ctm), begin(false, false));
    paint(ctx, device, space, value, alpha, params);
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_rect scissor)
{
    add_fill(ctx, path, here(ctm), begin(even_odd != 0, true));
    clip(ctx, device, scissor);
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    add_stroke(ctx, path, *stroke, here(ctm), begin(false, false));
    clip(ctx, device, scissor);
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *space,
               const float *value, float alpha, fz_color_params params)
{
    if (alpha >= 1.0f && add_text(ctx, text, nullptr, here(ctm), of_thread->glyphs, begin(false, true))) {
        paint(ctx, device, space, value, alpha, params);
    } else {
        draw_text(ctx, device, text, ctm, space, value, alpha, params);
    }
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    if (alpha >= 1.0f && add_text(ctx, text, stroke, here(ctm), of_thread->glyphs, begin(false, false))) {
        paint(ctx, device, space, value, alpha, params);
    } else {
        draw_stroked_text(ctx, device, text, stroke, ctm, space, value, alpha, params);
    }
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect scissor)
{
    if (add_text(ctx, text, nullptr, here(ctm), of_thread->glyphs, begin(false, true))) {
        clip(ctx, device, scissor);
    } else {
        draw_text_clip(ctx, device, text, ctm, scissor);
    }
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    if (add_text(ctx, text, stroke, here(ctm), of_thread->glyphs, begin(false, false))) {
        clip(ctx, device, scissor);
    } else {
        draw_stroked_text_clip(ctx, device, text, stroke, ctm, scissor);
    }
}

/// The draw device paints a pattern's cell once, where the pattern has its origin, and copies it: its shapes
/// are found there, wherever on the page or beside it that is, and whatever part of the page is painted.
int begin_tile(fz_context *ctx, fz_device *device, fz_rect area, fz_rect view, float xstep, float ystep,
               fz_matrix ctm, int id)
{
    const int cached = draw_begin_tile(ctx, device, area, view, xstep, ystep, ctm, id);
    Crisp &crisp = *of_thread;
    crisp.outer.push_back(crisp.frame);
    const fz_irect cell = fz_round_rect(fz_expand_rect(fz_transform_rect(view, ctm), 1));
    constexpr int longest = 1 << 16; // pixels; a larger cell is looked at like the page
    if (!fz_is_infinite_irect(cell) && cell.x1 > cell.x0 && cell.y1 > cell.y0 &&
        cell.x1 - cell.x0 <= longest && cell.y1 - cell.y0 <= longest) {
        const PixelRect whole{0, 0, cell.x1 - cell.x0, cell.y1 - cell.y0};
        crisp.frame = {whole, whole, cell.x0, cell.y0};
    }
    return cached;
}

void end_tile(fz_context *ctx, fz_device *device)
{
    Crisp &crisp = *of_thread;
    if (!crisp.outer.empty()) {
        crisp.frame = crisp.outer.back();
        crisp.outer.pop_back();
    }
    draw_end_tile(ctx, device);
}

} // namespace

CrispScope::CrispScope(const PixelRect &page, const PixelRect &part)
{
    of_thread.emplace();
    of_thread->frame = {page, part, 0, 0};
}

CrispScope::~CrispScope()
{
    of_thread.reset();
}

void make_crisp(fz_device *draw_device)
{
    static std::once_flag once;
    std::call_once(once, [draw_device] {
        draw_fill = draw_device->fill_path;
        draw_clip = draw_device->clip_path;
        draw_text = draw_device->fill_text;
        draw_stroked_text = draw_device->stroke_text;
        draw_text_clip = draw_device->clip_text;
        draw_stroked_text_clip = draw_device->clip_stroke_text;
        draw_begin_tile = draw_device->begin_tile;
        draw_end_tile = draw_device->end_tile;
    });
    draw_device->fill_path = Tolerant<fill_path>::call;
    draw_device->stroke_path = Tolerant<stroke_path>::call;
    draw_device->fill_text = Tolerant<fill_text>::call;
    draw_device->stroke_text = Tolerant<stroke_text>::call;
    draw_device->clip_path = clip_path;
    draw_device->clip_stroke_path = clip_stroke_path;
    draw_device->clip_text = clip_text;
    draw_device->clip_stroke_text = clip_stroke_text;
    draw_device->begin_tile = begin_tile;
    draw_device->end_tile = end_tile;
}

} // namespace bichrom
