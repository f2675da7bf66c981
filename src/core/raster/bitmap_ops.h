/// \file
/// Whole-film operations on 1-bit pixels.
/// Layer: core/raster.
#pragma once

#include "core/raster/plane.h"

namespace bichrom {

/// Swaps ink and bare film; padding stays 0.
void invert(Bitmap &film);

/// Turns the film over left to right, exactly.
void mirror(Bitmap &film);

/// Inks pixels [\p begin, \p end) of a row of a bitmap. \pre begin < end
void set_bits(std::uint8_t *bits, int begin, int end);

} // namespace bichrom
