/// \file
/// What traps make of plates, as stretches of rows.
/// Layer: core/line.
#pragma once

#include "core/base/units.h"

#include <cstdint>
#include <map>
#include <span>
#include <utility>
#include <vector>

namespace bichrom {

/// A stretch of a row whose tone is replaced.
struct TrapRun
{
    int begin = 0, end = 0; ///< columns [begin, end)
    std::uint8_t tone = 0;
    bool less = false; ///< the plate draws back; else it spreads
};

/// What traps make of some rows of a plate.
struct TrapRows
{
    std::vector<TrapRun> runs;         ///< of all rows, flat, left to right
    std::vector<std::size_t> first{0}; ///< by row, where its runs begin; one more than there are rows
    [[nodiscard]] bool empty() const { return runs.empty(); }
    [[nodiscard]] int rows() const { return static_cast<int>(first.size()) - 1; }
    [[nodiscard]] std::span<const TrapRun> row(int y) const
    {
        const auto at = static_cast<std::size_t>(y);
        return std::span(runs).subspan(first[at], first[at + 1] - first[at]);
    }
};

/// What is counted of one pair of plates that meet.
struct TrapMeeting
{
    double edge = 0;         ///< pixels of length
    std::uint64_t first = 0; ///< pixels where the first spreads under the second
    std::uint64_t second = 0;
};
using TrapMeetings = std::map<std::pair<int, int>, TrapMeeting>; ///< by plates, the lower number first

/// The traps of a whole page.
struct PageTraps
{
    Dpi resolution{600};
    int width = 0, height = 0;    ///< pixels of the page
    std::vector<TrapRows> plates; ///< in the order of the line's inks; empty() where a plate stays as it is
    TrapMeetings meetings;
};

} // namespace bichrom
