/// \file
/// The pixels of a picture of a page, as they look.
/// Layer: core/plates. May use core/artwork, core/raster.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/raster/unmix.h"

namespace bichrom {

/// The pixels of picture \p object of the page's scene, read by its profile, as sRGB. Inks are shown as grey
/// of their strongest tint. NoSuchPage when the object is no picture; CannotRead, TooLarge, Cancelled.
[[nodiscard]] Outcome<RgbPicture> picture_pixels(const PageContent &page, int object,
                                                 const JobControl &control = {});

} // namespace bichrom
