/// \file
/// Places that are inked or not, 64 at a time.
/// Layer: core/raster.
#pragma once

#include "core/raster/run_plane.h"

#include <cstdint>
#include <vector>

namespace bichrom {

/// 1 = inked; pixel x of a row is bit x % 64 of word x / 64. Bits behind the width are 0.
struct BitPlane
{
    int width = 0, height = 0;
    int words = 0; ///< of a row
    std::vector<std::uint64_t> bits;

    BitPlane() = default;
    BitPlane(int columns, int rows)
        : width(columns), height(rows), words((columns + 63) / 64),
          bits(static_cast<std::size_t>(words) * static_cast<std::size_t>(rows))
    {
    }
    [[nodiscard]] std::uint64_t *row(int y)
    {
        return bits.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(words);
    }
    [[nodiscard]] const std::uint64_t *row(int y) const
    {
        return bits.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(words);
    }
    [[nodiscard]] bool at(int x, int y) const { return (row(y)[x / 64] >> (x % 64) & 1) != 0; }
    /// Inks columns [\p begin, \p end) of row \p y.
    void set(int y, int begin, int end);
    [[nodiscard]] std::int64_t count() const;
};

/// Inks row \p to of \p plane where row \p y of \p tones has at least \p least.
void add_row(BitPlane &plane, int to, const RunPlane &tones, int y, std::uint8_t least);

/// Everything within \p radius pixels of something inked, centre to centre; where \p wanted is given it is
/// right where that inks, and bare where that inks nothing near. \pre radius is 0 to 4096
[[nodiscard]] BitPlane dilated(const BitPlane &plane, double radius, const BitPlane *wanted = nullptr);

/// 64 pixels of row \p y from column \p x on, which may lie outside: there all is bare.
[[nodiscard]] std::uint64_t word_at(const BitPlane &plane, int x, int y);

} // namespace bichrom
