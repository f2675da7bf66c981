/// \file
/// Outlines of glyphs, each asked of its font once.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <map>
#include <optional>
#include <utility>
#include <vector>

namespace bichrom {

/// Fonts run a program of their own for each outline they are asked for, a page of text asks for thousands,
/// and few of them differ. For as long as the fonts stay, which display lists keep.
class GlyphOutlines
{
public:
    /// Whether \p glyph has an outline.
    [[nodiscard]] bool has(fz_context *ctx, fz_font *font, int glyph);
    /// Its outline, moved to \p place. New reference; null where it has none.
    [[nodiscard]] fz_path *outline(fz_context *ctx, fz_font *font, int glyph, const fz_matrix &place);

    /// A piece of an outline.
    struct Step
    {
        enum class Kind
        {
            Move,
            Line,
            Quadratic,
            Cubic,
            Close
        } kind;
        fz_point to[3]; ///< as many as the kind has, the end last
    };

private:
    using Outline = std::optional<std::vector<Step>>;
    const Outline &find(fz_context *ctx, fz_font *font, int glyph);
    std::map<std::pair<fz_font *, int>, Outline> m_outlines; ///< in the glyphs' own space
};

} // namespace bichrom
