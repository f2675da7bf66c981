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
    /// Where in row(\p y) the stretch lies that holds column \p x.
    [[nodiscard]] std::size_t find(int y, int x) const;
    /// The same, quick where it is near \p hint, a place in another row.
    [[nodiscard]] std::size_t find_near(int y, int x, std::size_t hint) const
    {
        const auto spans = row(y);
        std::size_t at = std::min(hint, spans.size() - 1);
        for (int steps = 0; steps < 8; ++steps) {
            if (spans[at].end <= x) {
                ++at;
            } else if (at > 0 && spans[at - 1].end > x) {
                --at;
            } else {
                return at;
            }
        }
        return find(y, x);
    }
    /// The tones of all plates. Tuples that are alike have one number.
    [[nodiscard]] std::span<const std::uint8_t> tuple(std::uint32_t number) const
    {
        return std::span(m_tones).subspan(number * m_plates, m_plates);
    }
    [[nodiscard]] std::size_t tuples() const { return m_plates == 0 ? 0 : m_tones.size() / m_plates; }

private:
    struct Stretch
    {
        std::size_t first = 0, count = 0;
    };
    [[nodiscard]] std::uint32_t number_of(const std::vector<std::uint8_t> &tones);
    void grow();

    int m_width, m_left;
    std::size_t m_plates;
    std::vector<TupleSpan> m_spans;
    std::vector<Stretch> m_rows;
    std::vector<std::uint8_t> m_tones;             ///< of the tuples, one after the other
    std::vector<std::uint32_t> m_slots;            ///< hash table of tuple number + 1; 0 = free
    std::vector<std::uint8_t> m_one;               ///< the tuple being looked up
    std::vector<std::span<const ToneRun>> m_above; ///< the runs of the row before, by plate
};

} // namespace bichrom
