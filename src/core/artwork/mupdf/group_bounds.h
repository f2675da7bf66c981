/// \file
/// How far what is painted in each transparency group reaches.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <vector>

namespace bichrom {

/// The areas, in page space, outside which the groups of \p list are empty, in the order they begin; Type 3
/// glyphs' own groups are not counted. With a margin for the thinnest lines, which painters widen. Groups in
/// pattern cells are not bounded. Writers give every group the size of the page, and a group costs what its
/// area costs. \p out is made longer, also when MuPDF throws.
void find_group_bounds(fz_context *ctx, fz_display_list *list, fz_cookie *cookie, std::vector<fz_rect> &out);

} // namespace bichrom
