/// \file
/// Group 4 compression (ITU-T T.6) of 1-bit film.
/// Layer: core/output. May use core/raster.
#pragma once

#include "core/raster/plane.h"

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// Bits in writing order, the first in the highest bit of the first byte.
class BitString
{
public:
    /// Appends the lowest \p count bits of \p word, highest first; count 0 to 32.
    void put(std::uint32_t word, int count)
    {
        m_pending = (m_pending << count) | word;
        m_count += count;
        if (m_count >= 32) {
            m_count -= 32;
            store(static_cast<std::uint32_t>(m_pending >> m_count));
        }
    }
    /// Appends \p count ones.
    void put_ones(std::int64_t count);
    /// Appends another string at any bit position.
    void append(const BitString &other);
    /// Fills the last byte with zeros and gives the bytes; the string is then empty.
    [[nodiscard]] std::vector<std::uint8_t> take_bytes();
    /// Gives the bytes that are complete; the bits after them stay.
    [[nodiscard]] std::vector<std::uint8_t> take_whole_bytes();
    [[nodiscard]] std::int64_t bit_count() const
    {
        return static_cast<std::int64_t>(m_bytes.size()) * 8 + m_count;
    }

    /// The bits behind the last byte that is stored, the lowest of them; for who writes many at once.
    struct Tail
    {
        std::uint64_t bits = 0;
        int count = 0; ///< 0 to 31
    };
    [[nodiscard]] Tail tail() const { return {m_pending, m_count}; }
    /// Appends \p bytes, which begin with what tail() was, and what is behind them.
    void go_on(std::span<const std::uint8_t> bytes, Tail tail)
    {
        m_bytes.insert(m_bytes.end(), bytes.begin(), bytes.end());
        m_pending = tail.bits;
        m_count = tail.count;
    }

private:
    void store(std::uint32_t word)
    {
        m_bytes.push_back(static_cast<std::uint8_t>(word >> 24));
        m_bytes.push_back(static_cast<std::uint8_t>(word >> 16));
        m_bytes.push_back(static_cast<std::uint8_t>(word >> 8));
        m_bytes.push_back(static_cast<std::uint8_t>(word));
    }
    std::vector<std::uint8_t> m_bytes;
    std::uint64_t m_pending = 0; ///< the lowest m_count bits are not stored yet
    int m_count = 0;             ///< 0 to 31 between calls
};

/// Where a row changes colour.
class RowChanges
{
public:
    /// \param row  bits as a Bitmap has them
    void find(const std::uint8_t *row, int width);
    /// \param columns  those of a row told otherwise, ascending, the first to ink: 0 to \p width − 1
    void take(std::span<const int> columns, int width);
    void none(int width) { take({}, width); }
    /// The columns, starting from bare; then the width, four times.
    [[nodiscard]] const int *at() const { return m_at.data(); }
    [[nodiscard]] int count() const { return m_count; }
    friend bool operator==(const RowChanges &a, const RowChanges &b);

private:
    std::vector<int> m_at;
    int m_count = 0;
};

/// Encodes one row after the other, each against the one before. Ink is T.6's black.
class G4Rows
{
public:
    /// \param reference  a row before the first, as a Bitmap of that width has it; null = a bare one
    G4Rows(int width, const std::uint8_t *reference, BitString &out);
    /// \param row  as a Bitmap has it; stays until the next is added, or forget_row()
    void add(const std::uint8_t *row);
    /// The row added last stays no longer. The same bits come out.
    void forget_row() { m_previous = nullptr; }
    /// The same row told by the columns where it changes (RowChanges::take()): the same bits come out.
    void add(std::span<const int> columns);

private:
    void encode();

    int m_width;
    BitString &m_out;
    const std::uint8_t *m_previous; ///< null where the row before was told by its changes, or is gone
    RowChanges m_above, m_here;
    std::unique_ptr<std::uint8_t[]> m_scratch;
};

/// Encodes rows [first, last) of \p film, the first against \p reference (a row of the
/// same width and layout; null = a bare row). Ink is T.6's black.
void encode_g4_rows(const Bitmap &film, int first, int last, const std::uint8_t *reference, BitString &out);

/// The end-of-facsimile-block code that closes a strip or picture.
void end_g4(BitString &out);

/// A whole strip: all rows of \p film from a bare reference row, closed, in whole bytes.
[[nodiscard]] std::vector<std::uint8_t> encode_g4_strip(const Bitmap &film);

} // namespace bichrom
