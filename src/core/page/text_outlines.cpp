#include "core/page/text_outlines.h"

#include "core/artwork/mupdf/type3.h"
#include "core/page/path_copy.h"

#include <limits>

namespace bichrom {

bool has_outlines(fz_context *ctx, const fz_text *text, GlyphOutlines &glyphs)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        if (!may_have_outlines(span->font)) {
            return false;
        }
        for (int i = 0; i < span->len; ++i) {
            if (span->items[i].gid >= 0 && !glyphs.has(ctx, span->font, span->items[i].gid)) {
                return false;
            }
        }
    }
    return true;
}

namespace {

/// Hands \p text to \p paint as outlines of at most \p glyphs_at_once glyphs, to be stroked when they are
/// closed.
template <typename Paint>
void in_runs(fz_context *ctx, const fz_text *text, GlyphOutlines &glyphs, int glyphs_at_once, bool closed,
             Paint paint)
{
    fz_path *run = fz_new_path(ctx);
    fz_path *outline = nullptr;
    fz_var(run);
    fz_var(outline);
    fz_try(ctx)
    {
        int held = 0;
        for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
            for (int i = 0; i < span->len; ++i) {
                if (span->items[i].gid < 0) {
                    continue;
                }
                const fz_matrix place = glyph_matrix(span, span->items[i], fz_identity);
                outline = glyphs.outline(ctx, span->font, span->items[i].gid, place);
                if (outline != nullptr) {
                    (closed ? append_closed : append_path)(ctx, outline, run);
                    fz_drop_path(ctx, outline);
                    outline = nullptr;
                    ++held;
                }
                if (held == glyphs_at_once) {
                    paint(run);
                    fz_drop_path(ctx, run);
                    run = nullptr;
                    run = fz_new_path(ctx);
                    held = 0;
                }
            }
        }
        if (held > 0) {
            paint(run);
        }
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, outline);
        fz_drop_path(ctx, run);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

/// Glyphs that may be painted together with the effect that \p params ask for.
int glyphs_together(float alpha, const fz_color_params &params)
{
    constexpr int some = 32;
    return alpha >= 1.0f ? some : knocks_out_itself(params) ? std::numeric_limits<int>::max() : 1;
}

} // namespace

void fill_text_outlines(fz_context *ctx, fz_device *target, const fz_text *text, fz_matrix ctm,
                        fz_colorspace *space, const float *value, float alpha, fz_color_params params,
                        GlyphOutlines &glyphs)
{
    in_runs(ctx, text, glyphs, glyphs_together(alpha, params), false,
            [&](const fz_path *run) { fz_fill_path(ctx, target, run, 0, ctm, space, value, alpha, params); });
}

void stroke_text_outlines(fz_context *ctx, fz_device *target, const fz_text *text,
                          const fz_stroke_state *stroke, fz_matrix ctm, fz_colorspace *space,
                          const float *value, float alpha, fz_color_params params, GlyphOutlines &glyphs)
{
    in_runs(ctx, text, glyphs, glyphs_together(alpha, params), true, [&](const fz_path *run) {
        fz_stroke_path(ctx, target, run, stroke, ctm, space, value, alpha, params);
    });
}

} // namespace bichrom
