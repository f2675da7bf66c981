/// \file
/// Choking and spreading pixel by pixel: slow, and plain enough to be read.
#pragma once

#include "core/raster/plane.h"

namespace bichrom::test {

/// What choke() and spread() say, by looking at every row around each pixel.
Plane choke_by_pixels(const Plane &plane, double radius);
Plane spread_by_pixels(const Plane &plane, double radius);

/// Each pixel bare or solid, whichever it is nearer: what becomes of edges on films.
Plane halved(Plane plane);

} // namespace bichrom::test
