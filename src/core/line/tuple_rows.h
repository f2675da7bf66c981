/// \file
/// The plates of some rows side by side: stretches in which the tones of all plates stay the same.
/// Layer: core/line, private to it. May use core/raster.
#pragma once

#include "core/raster/run_plane.h"

#include <algorithm>
#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// Columns up to \p end, from where the stretch before it ends.
struct TupleSpan
{
    int end = 0;
    std::uint32_t tuple = 0; ///< see TupleRows::tuple
    friend bool operator==(const TupleSpan &, const TupleSpan &) = default;
};

/// Rows of several planes of one width. A row like the one above it is held once. Not for several threads at
/// the same time while rows are added.
///
/// Tones that differ by chance alone, as those of gradients do which are rounded so, are seen as their mean:
/// where the tones of a run are within two of each other over a whole block of the page, blocks counting from
/// its left.
class TupleRows
{
public:
    static constexpr int block = 16; ///< columns

    /// \param left  column of the page that column 0 is, 0 or more
    TupleRows(int width, std::size_t plates, int left = 0);

    /// Adds row \p y of \p planes under the rows added so far. \pre one of each plate, null = bare
    void add_row(std::span<const RunPlane *const> planes, int y);

    [[nodiscard]] int width() const { return m_width; }
    [[nodiscard]] int height() const { return static_cast<int>(m_rows.size()); }
    /// The stretches of a row: from column 0 to the width, neighbours differ.
    [[nodiscard]] std::span<const TupleSpan> row(int y) const
    {
        const Stretch &at = m_rows[static_cast<std::size_t>(y)];
        return std::span(m_spans).subspan(at.first, at.count);
    }
    /// Whether two rows are held as one; rows that are not may still be alike.
    [[nodiscard]] bool same(int a, int b) const
    {
        return m_rows[static_cast<std::size_t>(a)].first == m_rows[static_cast<std::size_t>(b)].first;
    }
    /// The tones of all plates. Tuples that are alike have one number.
    [[nodiscard]] std::span<const std::uint8_t> tuple(std::uint32_t number) const
    {
        return {reinterpret_cast<const std::uint8_t *>(m_tones.data() + number * m_words), m_plates};
    }
    [[nodiscard]] std::size_t tuples() const { return m_tones.size() / m_words; }

private:
    struct Stretch
    {
        std::size_t first = 0, count = 0;
    };
    [[nodiscard]] std::span<const std::uint64_t> words_of(std::uint32_t number) const
    {
        return {m_tones.data() + number * m_words, m_words};
    }
    [[nodiscard]] bool is_one(std::uint32_t number) const;
    [[nodiscard]] std::uint32_t number_of_one();
    void grow();

    int m_width, m_left;
    std::size_t m_plates, m_words; ///< a tuple is so many words, the last one filled up with 0
    std::vector<TupleSpan> m_spans;
    std::vector<Stretch> m_rows;
    std::vector<std::uint64_t> m_tones;            ///< of the tuples, one after the other
    std::vector<std::uint32_t> m_slots;            ///< hash table of tuple number + 1; 0 = free
    std::vector<std::uint64_t> m_one;              ///< the tuple being looked up
    std::vector<std::span<const ToneRun>> m_above; ///< the runs of the row before, by plate
};

/// Columns in which a row differs from the one above it.
struct TupleChange
{
    int begin = 0, end = 0;
    std::uint32_t above = 0, below = 0; ///< the stretches of the two rows that they lie in
};

/// Some columns of TupleRows, close together in memory. Rows that are alike there are held once. Columns
/// count as in the whole; the first and the last stretch of a row are cut at the border.
class TupleColumns
{
public:
    /// Takes columns [\p left, \p right). \pre \p left ≤ \p from < \p right; \p left is no less than the last
    /// time, if that was of the same \p whole
    /// \param from  the column that start() is of
    void take(const TupleRows &whole, int left, int right, int from);

    [[nodiscard]] std::span<const TupleSpan> row(int y) const
    {
        const Stretch &at = m_rows[static_cast<std::size_t>(y)];
        return {m_spans.data() + at.first, at.count};
    }
    [[nodiscard]] bool same(int a, int b) const
    {
        return m_rows[static_cast<std::size_t>(a)].first == m_rows[static_cast<std::size_t>(b)].first;
    }
    /// Where in row(\p y) the stretch lies that holds the column given to take().
    [[nodiscard]] std::size_t start(int y) const { return m_rows[static_cast<std::size_t>(y)].start; }
    /// How row \p y differs from the one above, from left to right; the first row has nothing above it.
    [[nodiscard]] std::span<const TupleChange> changes(int y) const
    {
        const std::size_t first = m_rows[static_cast<std::size_t>(y)].changes;
        return std::span(m_changes).subspan(first, m_rows[static_cast<std::size_t>(y) + 1].changes - first);
    }
    /// Where in row(\p y) the stretch lies that holds column \p x, near \p hint.
    [[nodiscard]] std::size_t find_near(int y, int x, std::size_t hint) const
    {
        const auto spans = row(y);
        std::size_t at = std::min(hint, spans.size() - 1);
        while (spans[at].end <= x) {
            ++at;
        }
        while (at > 0 && spans[at - 1].end > x) {
            --at;
        }
        return at;
    }

private:
    struct Stretch
    {
        std::uint32_t first = 0, count = 0, start = 0;
        std::uint32_t changes = 0; ///< where they begin
    };
    void add_changes(const Stretch &above, const Stretch &below, int left);

    std::vector<TupleSpan> m_spans;
    std::vector<Stretch> m_rows; ///< and one more, which says where the changes end
    std::vector<TupleChange> m_changes;
    std::vector<std::uint32_t> m_next; ///< by row of the whole, the stretch that holds the first column
};

} // namespace bichrom
