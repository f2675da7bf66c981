/// \file
/// Rows that traps are stamped into while they slide down a part.
/// Layer: core/line, private to it.
#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <vector>

namespace bichrom {

/// Tones stamped into some columns of some rows that slide down a part.
class TrapRing
{
public:
    /// \param left   the first of \p width columns
    /// \param rows   as many as are open at the same time, or more
    TrapRing(int left, int width, int rows)
        : m_left(left), m_width(width), m_rows(std::bit_ceil(static_cast<unsigned>(rows))),
          m_blocks((width + block - 1) / block), m_tones(static_cast<std::size_t>(width + chunk) * m_rows),
          m_used(m_rows * static_cast<std::size_t>((m_blocks + 63) / 64))
    {
    }

    /// Goes on with as many columns from \p left on. \pre all its rows are empty
    void move_to(int left) { m_left = left; }

    /// The largest tone counts; what lies beyond the ring's columns does not. \p y is 0 or more.
    void stamp(int y, int begin, int end, std::uint8_t tone)
    {
        begin = std::max(begin - m_left, 0);
        end = std::min(end - m_left, m_width);
        if (begin >= end) {
            return;
        }
        const std::size_t line = slot(y);
        std::uint8_t *to = m_tones.data() + line * static_cast<std::size_t>(m_width + chunk) + begin;
        std::uint64_t *used = m_used.data() + line * static_cast<std::size_t>(words());
        for (int left = end - begin; left > 0; left -= chunk, to += chunk) {
            Chunk here;
            std::memcpy(&here, to, chunk);
            // Where a chunk is longer than what is left, its rest takes nothing.
            const Chunk added = first_of(std::min(left, chunk)) & tone;
            here = here > added ? here : added;
            std::memcpy(to, &here, chunk);
        }
        for (int at = begin / block; at <= (end - 1) / block; ++at) {
            used[at / 64] |= std::uint64_t(1) << (at % 64);
        }
    }

    /// Whether row \p y may hold tones.
    [[nodiscard]] bool holds_any(int y) const
    {
        const std::uint64_t *used = m_used.data() + slot(y) * static_cast<std::size_t>(words());
        return std::any_of(used, used + words(), [](std::uint64_t word) { return word != 0; });
    }

    /// Gives \p take the stretches of row \p y that may hold tones, with the tones from their first column
    /// on, and forgets them.
    template <class Take> void empty_row(int y, const Take &take)
    {
        std::uint64_t *used = used_of(y);
        for (int word = 0; word < words(); ++word) {
            while (used[word] != 0) {
                const int first = std::countr_zero(used[word]);
                const int count = std::countr_one(used[word] >> first);
                const int begin = (word * 64 + first) * block;
                const int end = std::min(m_width, begin + count * block);
                take(m_left + begin, m_left + end, row(y) + begin);
                std::fill(row(y) + begin, row(y) + end, std::uint8_t(0));
                used[word] &= count == 64 ? 0 : ~(((std::uint64_t(1) << count) - 1) << first);
            }
        }
    }

private:
    static constexpr int block = 16; ///< columns that are looked at together
    static constexpr int chunk = 16; ///< columns stamped at once; rows lie that far apart
    using Chunk [[gnu::vector_size(chunk)]] = std::uint8_t;
    /// 255 in the first \p count, 0 in the others.
    static Chunk first_of(int count)
    {
        static constexpr auto masks = [] {
            std::array<std::uint8_t, 2 * chunk> made{};
            std::fill_n(made.begin(), chunk, std::uint8_t(255));
            return made;
        }();
        Chunk mask;
        std::memcpy(&mask, masks.data() + (chunk - count), chunk);
        return mask;
    }
    [[nodiscard]] int words() const { return (m_blocks + 63) / 64; }
    [[nodiscard]] std::size_t slot(int y) const { return static_cast<unsigned>(y) & (m_rows - 1); }
    std::uint8_t *row(int y) { return m_tones.data() + slot(y) * static_cast<std::size_t>(m_width + chunk); }
    std::uint64_t *used_of(int y) { return m_used.data() + slot(y) * static_cast<std::size_t>(words()); }

    int m_left, m_width;
    unsigned m_rows; ///< a power of two
    int m_blocks;
    std::vector<std::uint8_t> m_tones;
    std::vector<std::uint64_t> m_used; ///< a bit for each block of a row
};

} // namespace bichrom
