#include "core/plates/text_outlines.h"

#include "core/artwork/mupdf/type3.h"
#include "core/plates/wide_bounds.h"

namespace bichrom {

namespace {

constexpr int glyphs_in_a_run = 32;

} // namespace

bool has_outlines(fz_context *ctx, const fz_text *text)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        if (span->font->t3procs != nullptr || span->font->ft_face == nullptr) {
            return false;
        }
        for (int i = 0; i < span->len; ++i) {
            if (span->items[i].gid < 0) {
                continue;
            }
            fz_path *outline = fz_outline_glyph(ctx, span->font, span->items[i].gid, fz_identity);
            if (outline == nullptr) {
                return false;
            }
            fz_drop_path(ctx, outline);
        }
    }
    return true;
}

void fill_text_outlines(fz_context *ctx, fz_device *target, const fz_text *text, fz_matrix ctm,
                        fz_colorspace *space, const float *value, float alpha, fz_color_params params)
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
                outline = fz_outline_glyph(ctx, span->font, span->items[i].gid, place);
                if (outline != nullptr) {
                    append_path(ctx, outline, run);
                    fz_drop_path(ctx, outline);
                    outline = nullptr;
                    ++held;
                }
                if (held == glyphs_in_a_run && alpha >= 1.0f) {
                    fz_fill_path(ctx, target, run, 0, ctm, space, value, alpha, params);
                    fz_drop_path(ctx, run);
                    run = nullptr;
                    run = fz_new_path(ctx);
                    held = 0;
                }
            }
        }
        if (held > 0) {
            fz_fill_path(ctx, target, run, 0, ctm, space, value, alpha, params);
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

} // namespace bichrom
