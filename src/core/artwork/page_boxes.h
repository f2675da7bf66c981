/// \file
/// Page boxes seen from one another.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/artwork.h"

namespace bichrom {

/// Where \p which lies, in mm from the top left of \p origin after the page's rotation, y down.
[[nodiscard]] Rect box_within(const PageInfo &page, PageBox which, PageBox origin);

/// The same of any \p rect given in the axes of the boxes.
[[nodiscard]] Rect rect_within(const PageInfo &page, const Rect &rect, PageBox origin);

} // namespace bichrom
