/// \file
/// The inner loop of screening, compiled for several instruction sets.
/// Layer: core/screen, private.
#pragma once

#include <cstdint>

namespace bichrom {

/// A row of thresholds that repeats.
struct ScreenRow
{
    const std::uint8_t *thresholds = nullptr; ///< width of them, and 64 of its beginning again
    int width = 64;                           ///< at least 64
    int column = 0;                           ///< that the first pixel stands in
};

/// \p words groups of 64 pixels: ink where the tone is larger than the threshold. \p tones are readable to
/// the end of the last group.
void screen_words(const ScreenRow &row, const std::uint8_t *tones, int words, std::uint8_t *bits);

} // namespace bichrom
