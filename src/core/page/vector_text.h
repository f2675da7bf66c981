/// \file
/// Text written as text: in the fonts that the page was interpreted with.
/// Layer: core/page, private to it. May use core/artwork.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/page/vector_page.h"

#include <map>
#include <string>

namespace bichrom {

/// What becomes of the inside of glyphs: the text rendering modes of ISO 32000-1, table 106.
enum class TextPainting
{
    Fill = 0,
    Stroke = 1,
    Clip = 7
};

/// The fonts of a page that is being written, each put into it once.
class VectorFonts
{
public:
    explicit VectorFonts(VectorPage &page) : m_page(page) {}

    /// Whether all of \p text can be written in its own fonts: programs that other readers know (TrueType,
    /// CFF, Type 1), which the interpreter neither widened, slanted nor made bold. Puts them into the page.
    [[nodiscard]] bool can_write(fz_context *ctx, const fz_text *text);

    /// Appends \p text, which can be written, from BT to ET. Widths are the font's own; glyphs stand to a
    /// thousandth of a point where they are meant to.
    void put(fz_context *ctx, std::string &out, const fz_text *text, fz_matrix ctm, TextPainting painting);

private:
    int number_of(fz_context *ctx, fz_font *font);
    VectorGlyph *glyph_of(fz_context *ctx, fz_font *font, int glyph);

    VectorPage &m_page;
    std::map<const fz_font *, int> m_numbers; ///< −1 = stays outlines
};

} // namespace bichrom
