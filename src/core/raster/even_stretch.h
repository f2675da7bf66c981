/// \file
/// How far a tone goes on in a row of pixels.
/// Layer: core/raster.
#pragma once

#include <bit>
#include <cstdint>
#include <cstring>

namespace bichrom {

/// The first column after \p x, at most \p end, where \p tones change. \p tones is of column \p begin.
[[nodiscard]] inline int change_after(const std::uint8_t *tones, int begin, int x, int end)
{
    static_assert(std::endian::native == std::endian::little);
    const std::uint8_t tone = tones[x - begin];
    std::uint64_t alike = 0;
    std::memset(&alike, tone, sizeof alike);
    int at = x + 1;
    for (std::uint64_t word = 0; at + 8 <= end; at += 8) {
        std::memcpy(&word, tones + (at - begin), sizeof word);
        if (word != alike) {
            return at + std::countr_zero(word ^ alike) / 8; // the first byte is the lowest
        }
    }
    while (at < end && tones[at - begin] == tone) {
        ++at;
    }
    return at;
}

} // namespace bichrom
