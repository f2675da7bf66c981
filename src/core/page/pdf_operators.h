/// \file
/// Numbers, paths and pens as PDF operators.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <string>

namespace bichrom {

/// Appends a number as PDF writes it, and a space.
void put_number(std::string &out, double value, int decimals = 4);
/// Appends "a b c d e f" and an operator that takes a matrix.
void put_matrix(std::string &out, fz_matrix m, const char *name = "cm");
/// Appends the segments of \p path, moved by \p ctm, as m, l, c and h. May throw MuPDF's way.
void put_path(fz_context *ctx, std::string &out, const fz_path *path, fz_matrix ctm, int decimals = 4);
/// Appends a closed rectangle, corner by corner, moved by \p ctm.
void put_corners(std::string &out, fz_rect box, fz_matrix ctm);
/// Appends what a pen is: w, J, j, M and d.
void put_stroke(std::string &out, const fz_stroke_state *stroke);

} // namespace bichrom
