/// \file
/// Making a plane narrower or wider by an exact circular distance.
/// Layer: core/raster. May use core/base.
#pragma once

#include "core/raster/plane.h"

namespace bichrom {

/// Shrinks every inked area by \p radius pixels (0 to 4000), measured from its edge.
///
/// The edge is where coverage crosses one half; a grey edge pixel places it between two pixels, so the
/// result is antialiased. Tints under one half are bare, those above solid. Distances are Euclidean, exact
/// to 0.5 pixel. What lies outside the plane counts as its nearest pixels do: give it a rim as wide as the
/// radius where that matters.
[[nodiscard]] Plane choke(const Plane &plane, double radius);
/// The same outwards.
[[nodiscard]] Plane spread(const Plane &plane, double radius);

/// The smallest tone within \p radius of each pixel: narrower, with tones kept. Same rim.
[[nodiscard]] Plane choke_tones(const Plane &plane, double radius);
[[nodiscard]] Plane spread_tones(const Plane &plane, double radius);

/// The mean over a disc of \p radius pixels. Same rim.
[[nodiscard]] Plane smooth(const Plane &plane, double radius);

} // namespace bichrom
