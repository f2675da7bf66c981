/// \file
/// How many bits words hold, compiled for several instruction sets.
/// Layer: core/raster.
#pragma once

#include <cstdint>

namespace bichrom {

/// Adds to each of \p words \p counts how many bits its word of a row, eight bytes, holds. \p row stands
/// where a word may, as the rows of a Bitmap do.
void add_bit_counts(const std::uint8_t *row, int words, std::uint64_t *counts);

} // namespace bichrom
