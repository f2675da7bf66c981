/// \file
/// The inner loop of screening, compiled for several instruction sets.
/// Layer: core/screen, private.
#pragma once

#include <cstdint>

namespace bichrom {

/// A row of the screen: phases of its first pixel and steps from pixel to pixel.
struct ScreenRow
{
    std::uint32_t u = 0, v = 0;
    std::uint32_t du = 0, dv = 0;
    const std::uint8_t *cell = nullptr; ///< 256 rows (v) of 256 (u) thresholds, readable 3 bytes beyond
};

/// \p words groups of 64 pixels; tones are readable to the end of the last group.
void screen_words(const ScreenRow &row, const std::uint8_t *tones, int words, std::uint8_t *bits);

} // namespace bichrom
