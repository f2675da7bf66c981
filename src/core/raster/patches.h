/// \file
/// Connected parts of a plane.
/// Layer: core/raster.
#pragma once

#include "core/raster/plane.h"

#include <vector>

namespace bichrom {

/// Pixels that hang together, also across corners.
struct Patch
{
    int left, top, right, bottom; ///< pixels, both ends inside
    int pixels = 0;
    double cover = 0;   ///< pixels by their tone
    int seed_x, seed_y; ///< one of them
};

/// The patches of pixels of tone \p least (1 to 255) and more, from the top.
[[nodiscard]] std::vector<Patch> find_patches(const Plane &plane, int least);

} // namespace bichrom
