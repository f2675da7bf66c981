/// \file
/// How long the edges are along which plates meet.
/// Layer: core/line, private to it.
#pragma once

#include "core/line/trap_rows.h"

#include <cmath>
#include <unordered_map>
#include <utility>

namespace bichrom {

/// Adds up edges between pixels, told row by row from the top.
///
/// A stretch of n pixels along a row or a column is as long as the slope that it is a step of, so that 45°
/// comes out as √2 and straight edges as they are: √(n² + 1) − ½√2, and ½√2 for a single pixel.
class EdgeLengths
{
public:
    /// Columns [\p begin, \p end) differ from those of the row below. Told from left to right.
    /// \param to  counts it; null for rows that are only looked at
    void row(std::pair<int, int> pair, int begin, int end, TrapMeetings *to)
    {
        if (m_open.pair == pair && m_open.end == begin) {
            m_open.end = end;
            return;
        }
        end_row(to);
        m_open = {pair, begin, end};
    }
    /// The stretch that is open ends.
    void end_row(TrapMeetings *to)
    {
        if (m_open.pair.first >= 0 && to != nullptr) {
            (*to)[m_open.pair].edge += length(m_open.end - m_open.begin);
        }
        m_open = {};
    }
    /// Row \p y changes between column \p x − 1 and \p x.
    void column(std::pair<int, int> pair, int y, int x, TrapMeetings *to)
    {
        if (m_row != y) {
            m_above.swap(m_here);
            m_here.clear();
            if (m_row != y - 1) {
                m_above.clear();
            }
            m_row = y;
        }
        int pixels = 1;
        if (const auto above = m_above.find(x); above != m_above.end() && above->second.first == pair) {
            pixels += above->second.second;
        }
        m_here[x] = {pair, pixels};
        if (to != nullptr) {
            (*to)[pair].edge += length(pixels) - length(pixels - 1);
        }
    }

private:
    struct Open
    {
        std::pair<int, int> pair{-1, -1};
        int begin = 0, end = 0;
    };
    [[nodiscard]] static double length(int pixels)
    {
        constexpr double half = 0.70710678118654752;
        return pixels == 0 ? 0 : pixels == 1 ? half : std::sqrt(double(pixels) * pixels + 1) - half;
    }

    Open m_open;
    std::unordered_map<int, std::pair<std::pair<int, int>, int>> m_here,
        m_above; ///< by column: pixels so far
    int m_row = -2;
};

} // namespace bichrom
