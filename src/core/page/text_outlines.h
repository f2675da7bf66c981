/// \file
/// Text as outlines, so that its edges follow the same rule as any other shape.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/page/glyph_outlines.h"

namespace bichrom {

/// Whether every glyph of \p text has an outline (bitmap and Type 3 glyphs have none).
[[nodiscard]] bool has_outlines(fz_context *ctx, const fz_text *text, GlyphOutlines &glyphs);

/// Whether glyphs of one text object that overlap are painted once: the graphics state's text knockout
/// (ISO 32000-1, 9.3.8), which intake hands on as black point compensation, since the interpreter only passes
/// that one and nothing else here uses it.
[[nodiscard]] inline bool knocks_out_itself(const fz_color_params &params)
{
    return params.bp != 0; // on unless intake says otherwise
}

/// Fills \p text as paths on \p target. Opaque text goes in runs of some glyphs, so that bands skip what lies
/// outside; text with alpha goes as one path when it knocks itself out, else glyph by glyph.
void fill_text_outlines(fz_context *ctx, fz_device *target, const fz_text *text, fz_matrix ctm,
                        fz_colorspace *space, const float *value, float alpha, fz_color_params params,
                        GlyphOutlines &glyphs);

/// Strokes \p text in the same way.
void stroke_text_outlines(fz_context *ctx, fz_device *target, const fz_text *text,
                          const fz_stroke_state *stroke, fz_matrix ctm, fz_colorspace *space,
                          const float *value, float alpha, fz_color_params params, GlyphOutlines &glyphs);

} // namespace bichrom
