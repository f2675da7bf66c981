/// \file
/// Since which row columns are what they are.
/// Layer: core/line, private to it.
#pragma once

#include "core/line/tuple_rows.h"

#include <algorithm>
#include <cstddef>
#include <vector>

namespace bichrom {

/// By column, the row since which its tuple is what it is, while rows are gone down.
class ColumnStarts
{
public:
    /// Begins with columns [\p from, \p to) at \p row: what was above it is not known.
    void begin(const TupleColumns &rows, int from, int to, int row)
    {
        m_rows = &rows;
        m_from = from;
        m_to = to;
        m_row = row;
        m_since.assign(static_cast<std::size_t>(to - from), row);
    }
    [[nodiscard]] int row() const { return m_row; }
    void go_to(int row)
    {
        while (m_row < row) {
            for (const TupleChange &change : m_rows->changes(++m_row)) {
                for (int x = std::max(change.begin, m_from); x < std::min(change.end, m_to); ++x) {
                    m_since[static_cast<std::size_t>(x - m_from)] = m_row;
                }
            }
        }
    }
    /// Whether columns [\p begin, \p end) of those begun with are the same from row \p since on.
    [[nodiscard]] bool all_since(int since, int begin, int end) const
    {
        for (int x = begin - m_from; x < end - m_from; ++x) {
            if (m_since[static_cast<std::size_t>(x)] > since) {
                return false;
            }
        }
        return true;
    }

private:
    const TupleColumns *m_rows = nullptr;
    int m_from = 0, m_to = 0, m_row = 0;
    std::vector<int> m_since;
};

} // namespace bichrom
