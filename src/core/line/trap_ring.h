/// \file
/// Rows that traps are stamped into while they slide down a part.
/// Layer: core/line, private to it.
#pragma once

#include <algorithm>
#include <bit>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace bichrom {

/// Tones stamped into some rows that slide down a part.
class TrapRing
{
public:
    TrapRing(int width, int rows)
        : m_width(width), m_rows(rows), m_blocks((width + block - 1) / block),
          m_tones(static_cast<std::size_t>(width) * static_cast<std::size_t>(rows)),
          m_used(static_cast<std::size_t>(rows) * static_cast<std::size_t>((m_blocks + 63) / 64))
    {
    }

    /// The largest tone counts.
    void stamp(int y, int begin, int end, std::uint8_t tone)
    {
        begin = std::max(begin, 0);
        end = std::min(end, m_width);
        if (begin >= end) {
            return;
        }
        std::uint8_t *to = row(y);
        for (int x = begin; x < end; ++x) {
            to[x] = std::max(to[x], tone);
        }
        std::uint64_t *used = used_of(y);
        for (int at = begin / block; at <= (end - 1) / block; ++at) {
            used[at / 64] |= std::uint64_t(1) << (at % 64);
        }
    }

    /// Gives \p take the stretches of row \p y that may hold tones, and forgets them.
    template <class Take> void empty_row(int y, const Take &take)
    {
        std::uint64_t *used = used_of(y);
        for (int word = 0; word < words(); ++word) {
            while (used[word] != 0) {
                const int first = std::countr_zero(used[word]);
                const int count = std::countr_one(used[word] >> first);
                const int begin = (word * 64 + first) * block;
                const int end = std::min(m_width, begin + count * block);
                take(begin, end, row(y));
                std::fill(row(y) + begin, row(y) + end, std::uint8_t(0));
                used[word] &= count == 64 ? 0 : ~(((std::uint64_t(1) << count) - 1) << first);
            }
        }
    }

private:
    static constexpr int block = 64; ///< columns that are looked at together
    [[nodiscard]] int words() const { return (m_blocks + 63) / 64; }
    [[nodiscard]] std::size_t slot(int y) const
    {
        return static_cast<std::size_t>((y % m_rows + m_rows) % m_rows);
    }
    std::uint8_t *row(int y) { return m_tones.data() + slot(y) * static_cast<std::size_t>(m_width); }
    std::uint64_t *used_of(int y) { return m_used.data() + slot(y) * static_cast<std::size_t>(words()); }

    int m_width, m_rows, m_blocks;
    std::vector<std::uint8_t> m_tones;
    std::vector<std::uint64_t> m_used; ///< a bit for each block of a row
};

} // namespace bichrom
