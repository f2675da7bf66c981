/// \file
/// A picture as it looks from farther away.
/// Layer: core/proof. May use core/base, core/colour.
#pragma once

#include "core/base/units.h"

#include <cstdint>

namespace bichrom {

/// The spread of a point in an eye of visual acuity 1.0, seen from \p metres: half of its light falls within
/// one minute of arc (what ISO 8596's acuity 1.0 tells apart), as the standard deviation of a Gaussian.
[[nodiscard]] Millimetres eye_spread(double metres);

/// Blurs 0xAARRGGBB pixels, rows of \p width without padding, by a Gaussian of \p sigma pixels in linear
/// light; beyond the edge the picture goes on as it ends. Three running means, so that it takes as long for
/// any sigma. \param sigma  0 or less leaves the picture as it is
void blur_in_light(std::uint32_t *pixels, int width, int height, double sigma);

} // namespace bichrom
