/// \file
/// The lines of a page that a knife follows.
/// Layer: core/standin, private. May use core/page.
#pragma once

#include "core/page/vector_page.h"

#include <cstddef>
#include <vector>

namespace bichrom {

/// In points from the page's top left, y down.
struct CutPoint
{
    double x = 0, y = 0;
};

struct CutPath
{
    std::vector<std::vector<CutPoint>> pieces; ///< curves are told by their chords, true to 0.01 mm
    std::size_t open = 0;                      ///< of them, those whose end is not their beginning
    bool raster = false;                       ///< there is a picture or a shading too
    [[nodiscard]] double length_mm() const;
};

/// The paths that \p page strokes in any tone, and the edges of those that it fills.
[[nodiscard]] CutPath cut_path(const VectorPage &page);

} // namespace bichrom
