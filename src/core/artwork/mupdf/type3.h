/// \file
/// Type 3 glyphs that bring their own colours (operator d0).
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Whether the glyph paints in colours of its own rather than the text's.
[[nodiscard]] inline bool is_coloured_glyph(const fz_font *font, int glyph)
{
    return font->t3procs != nullptr && glyph >= 0 && glyph < 256 && font->t3flags != nullptr &&
           (font->t3flags[glyph] & FZ_DEVFLAG_COLOR) != 0;
}

/// Whether letters of \p font may be drawn by outlines.
[[nodiscard]] inline bool may_have_outlines(const fz_font *font)
{
    return font->t3procs == nullptr && font->ft_face != nullptr;
}

[[nodiscard]] inline bool has_coloured_glyphs(const fz_text *text)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        for (int i = 0; i < span->len; ++i) {
            if (is_coloured_glyph(span->font, span->items[i].gid)) {
                return true;
            }
        }
    }
    return false;
}

/// Where glyph \p item of \p span stands on the page.
[[nodiscard]] inline fz_matrix glyph_matrix(const fz_text_span *span, const fz_text_item &item, fz_matrix ctm)
{
    fz_matrix trm = span->trm;
    trm.e = item.x;
    trm.f = item.y;
    return fz_concat(trm, ctm);
}

} // namespace bichrom
