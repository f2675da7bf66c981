/// \file
/// Writes what a routed page paints as PDF operators.
/// Layer: core/page, private to it. May use core/artwork.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/page/vector_page.h"

#include <functional>

namespace bichrom {

/// A device for the calls of a routed list (routed_list.h), whose colours are values on planes. Text becomes
/// outlines; what PDF cannot clip by is a mask of 600 dpi.
/// \param page      gets what is painted; must outlive the device
/// \param plate_of  the plate that the plane of that name is for, −1 for planes that are left out: they still
///                  knock out others
[[nodiscard]] fz_device *new_vector_device(fz_context *ctx, VectorPage &page,
                                           std::function<int(const char *plane)> plate_of);

} // namespace bichrom
