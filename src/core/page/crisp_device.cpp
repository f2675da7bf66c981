#include "core/page/crisp_device.h"

#include "core/artwork/mupdf/notes.h"
#include "core/page/runs/outlines.h"
#include "core/raster/shape_list.h"

#include <mutex>
#include <optional>
#include <vector>

namespace bichrom {

namespace {

/// What a thread paints, and memory for it. Callbacks hold nothing with a destructor: MuPDF's errors jump.
struct Crisp
{
    PixelRect page, part;
    std::optional<ShapeList> shapes;
    RowFiller filler;
    std::vector<PixelRect> inked; ///< of the shape closed last
};

thread_local std::optional<Crisp> of_thread;

/// Opens a shape.
ShapeList &begin(bool even_odd, bool keep_slivers)
{
    Crisp &crisp = *of_thread;
    crisp.shapes.emplace(crisp.page.width, crisp.page.height);
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
    const PixelRect &part = crisp.part;
    crisp.filler.fill(*crisp.shapes, crisp.shapes->shape(number), part.y, part.y + part.height,
                      crisp.page.width, [&](int row, std::span<const InkSpan> spans) {
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
        for (const PixelRect &r : of_thread->inked) {
            fz_rectto(ctx, path, static_cast<float>(r.x), static_cast<float>(r.y),
                      static_cast<float>(r.x + r.width), static_cast<float>(r.y + r.height));
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
    add_fill(ctx, path, ctm, begin(even_odd != 0, true));
    paint(ctx, device, space, value, alpha, params);
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    add_stroke(ctx, path, *stroke, ctm, begin(false, false));
    paint(ctx, device, space, value, alpha, params);
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_rect scissor)
{
    add_fill(ctx, path, ctm, begin(even_odd != 0, true));
    clip(ctx, device, scissor);
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    add_stroke(ctx, path, *stroke, ctm, begin(false, false));
    clip(ctx, device, scissor);
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *space,
               const float *value, float alpha, fz_color_params params)
{
    if (alpha >= 1.0f && add_text(ctx, text, nullptr, ctm, begin(false, true))) {
        paint(ctx, device, space, value, alpha, params);
    } else {
        draw_text(ctx, device, text, ctm, space, value, alpha, params);
    }
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    if (alpha >= 1.0f && add_text(ctx, text, stroke, ctm, begin(false, false))) {
        paint(ctx, device, space, value, alpha, params);
    } else {
        draw_stroked_text(ctx, device, text, stroke, ctm, space, value, alpha, params);
    }
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect scissor)
{
    if (add_text(ctx, text, nullptr, ctm, begin(false, true))) {
        clip(ctx, device, scissor);
    } else {
        draw_text_clip(ctx, device, text, ctm, scissor);
    }
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    if (add_text(ctx, text, stroke, ctm, begin(false, false))) {
        clip(ctx, device, scissor);
    } else {
        draw_stroked_text_clip(ctx, device, text, stroke, ctm, scissor);
    }
}

} // namespace

CrispScope::CrispScope(const PixelRect &page, const PixelRect &part)
{
    of_thread.emplace();
    of_thread->page = page;
    of_thread->part = part;
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
    });
    draw_device->fill_path = Tolerant<fill_path>::call;
    draw_device->stroke_path = Tolerant<stroke_path>::call;
    draw_device->fill_text = Tolerant<fill_text>::call;
    draw_device->stroke_text = Tolerant<stroke_text>::call;
    draw_device->clip_path = clip_path;
    draw_device->clip_stroke_path = clip_stroke_path;
    draw_device->clip_text = clip_text;
    draw_device->clip_stroke_text = clip_stroke_text;
}

} // namespace bichrom
