/// \file
/// The pixels of a picture of a page, as they look.
/// Layer: core/page. May use core/artwork, core/raster.
#pragma once

#include "core/artwork/artwork.h"
#include "core/artwork/scene.h"
#include "core/base/job_control.h"
#include "core/raster/unmix.h"

namespace bichrom {

/// The pixels of picture \p object of the page's scene, read by its profile, as sRGB. Inks are shown as grey
/// of their strongest tint. NoSuchPage when the object is no picture; CannotRead, TooLarge, Cancelled.
[[nodiscard]] Outcome<RgbPicture> picture_pixels(const PageContent &page, int object,
                                                 const JobControl &control = {});

/// A flat colour of a picture of the page.
struct FlatColour
{
    int object = 0; ///< the picture, in the page's scene
    EncodedRgb rgb{};
    double square_cm =
        0; ///< about: its share of the picture's flat pixels times the area the picture takes up
};

/// The flat colours of the page's pictures; photos have none. Pictures beyond the first 50 are not looked at.
/// Cancelled; pictures that cannot be read are left out.
[[nodiscard]] Outcome<std::vector<FlatColour>> find_flat_colours(const PageContent &page, const Scene &scene,
                                                                 const JobControl &control = {});

} // namespace bichrom
