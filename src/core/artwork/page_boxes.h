/// \file
/// Page boxes seen from one another.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/artwork.h"

namespace bichrom {

/// Where \p which lies, in mm from the top left of \p origin after the page's rotation, y down.
[[nodiscard]] Rect box_within(const PageInfo &page, PageBox which, PageBox origin);

} // namespace bichrom
