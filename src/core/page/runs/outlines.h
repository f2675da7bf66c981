/// \file
/// Paths of MuPDF, filled or drawn with a width, as shapes.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/page/glyph_outlines.h"
#include "core/raster/shape_list.h"

namespace bichrom {

/// Puts the segments of \p path into the open shape of \p shapes. \param to_pixels  from the path's space
void add_fill(fz_context *ctx, const fz_path *path, const fz_matrix &to_pixels, ShapeList &shapes);

/// Puts the corners of \p area into the open shape of \p shapes. \param to_pixels  from its space
void add_quad(fz_rect area, const fz_matrix &to_pixels, ShapeList &shapes);

/// Outlines of letters are closed though their font does not say so.
enum class Contours
{
    AsDrawn,
    Closed
};

/// Puts \p path drawn with \p stroke into the open shape of \p shapes, which goes by winding. Lines are one
/// pixel wide at least. Joins, ends and dashes as ISO 32000-1 (8.4.3) says; ends of dashes that meet at the
/// start of a closed path are not joined. \param to_pixels  from the path's space, in which the pen is round
void add_stroke(fz_context *ctx, const fz_path *path, const fz_stroke_state &stroke,
                const fz_matrix &to_pixels, ShapeList &shapes, Contours contours = Contours::AsDrawn);

/// Puts the outlines of \p text into the open shape of \p shapes, filled, or drawn with \p stroke when there
/// is one. \return false when some letters have none, and then only part of them
bool add_text(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke, const fz_matrix &to_pixels,
              GlyphOutlines &glyphs, ShapeList &shapes);

} // namespace bichrom
