/// \file
/// Page boxes seen from one another.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/artwork.h"

#include <utility>

namespace bichrom {

/// Where \p which lies, in mm from the top left of \p origin after the page's rotation, y down.
[[nodiscard]] Rect box_within(const PageInfo &page, PageBox which, PageBox origin);

/// The same of any \p rect given in the axes of the boxes.
[[nodiscard]] Rect rect_within(const PageInfo &page, const Rect &rect, PageBox origin);

/// Gives the page bleed beyond its trim, \p across mm left and right as seen, \p along above and below: the
/// bleed box lies there, and the media and crop box hold it.
void add_bleed(PageInfo &page, double across, double along);

/// Where the media box of the file begins, in mm from the top left of the one that bleed was added to.
[[nodiscard]] std::pair<double, double> own_corner(const PageInfo &page);

} // namespace bichrom
