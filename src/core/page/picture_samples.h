/// \file
/// Parts of a page's pictures as grey pixels, for looking at them.
/// Layer: core/page. May use core/artwork, core/raster.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/raster/plane.h"

#include <functional>

namespace bichrom {

/// Calls \p look with the index of each picture object of 64 pixels a side or more, and up to 512 × 512
/// pixels from its middle: the mean of its channels, 8 bits. A picture used several times is shown once for
/// each. Pictures that cannot be decoded, or of one bit a pixel, are left out. TooLarge, Cancelled.
[[nodiscard]] Done each_picture_sample(const PageContent &page,
                                       const std::function<void(int object, const Plane &sample)> &look,
                                       const JobControl &control = {});

} // namespace bichrom
