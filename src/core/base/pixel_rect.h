/// \file
/// Arithmetic of rectangles of pixels.
/// Layer: core/base.
#pragma once

#include "core/base/units.h"

#include <algorithm>

namespace bichrom {

/// What lies in both; empty() where nothing does.
[[nodiscard]] inline PixelRect intersection(const PixelRect &a, const PixelRect &b)
{
    const int left = std::max(a.x, b.x), top = std::max(a.y, b.y);
    return {left, top, std::min(a.x + a.width, b.x + b.width) - left,
            std::min(a.y + a.height, b.y + b.height) - top};
}

} // namespace bichrom
