/// \file
/// Where a page paints anything.
/// Layer: core/line.
#pragma once

#include "core/line/plate_line.h"

namespace bichrom {

/// What counts as painted.
enum class Painted
{
    Artwork, ///< whatever the artwork paints, white too
    Plates   ///< what plates print, bases and traps too, and a pixel around it: nothing finer lies beyond
};

/// The smallest rectangle that holds all that is painted on the page: mm from the page's top left, to a pixel
/// of 1200 dpi, or of less where the page is large. Empty when nothing is painted. Errors as
/// PlateLine::run().
[[nodiscard]] Outcome<Rect> painted_area(const PlateLine &plate_line, const JobControl &control = {},
                                         Painted what = Painted::Artwork);

} // namespace bichrom
