/// \file
/// What a text object says, and in which fonts and sizes.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/artwork/scene.h"

namespace bichrom {

/// The area \p text paints, page space; of text without any mark, blanks say, where its letters stand.
[[nodiscard]] fz_rect text_bounds(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke,
                                  fz_matrix ctm);

/// The runs of \p text of one font and size each, neighbours joined. Bounds are not cut by clips.
[[nodiscard]] std::vector<TextRun> text_runs(fz_context *ctx, const fz_text *text, fz_matrix ctm);

/// The first 60 characters as UTF-8; what the font cannot name becomes a blank. Empty where it names none.
[[nodiscard]] std::string first_characters(const fz_text *text);

} // namespace bichrom
