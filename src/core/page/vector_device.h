/// \file
/// Writes what a routed page paints as PDF operators.
/// Layer: core/page, private to it. May use core/artwork.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/page/vector_page.h"

#include <functional>
#include <vector>

namespace bichrom {

/// A device for the calls of a routed list (routed_list.h), whose colours are values on planes. Text stays
/// text in its own fonts where other readers know them, else becomes outlines; what PDF cannot clip by is a
/// mask of 600 dpi. Pictures that are a JPEG of the artwork stay that. \param page      gets what is painted;
/// must outlive the device \param plate_of  the plate that the plane of that name is for, −1 for planes that
/// are left out: they still
///                  knock out others
/// \param together  when a page takes several runs: the plates of this one, all of which an object names that
///                  knocks out, so that it leaves those of other runs alone; else empty
[[nodiscard]] fz_device *new_vector_device(fz_context *ctx, VectorPage &page,
                                           std::function<int(const char *plane)> plate_of,
                                           std::vector<int> together = {});

} // namespace bichrom
