/// \file
/// Edges of a page at which the same plate changes in the same way.
/// Layer: core/line, private to it.
#pragma once

#include "core/line/trap_ring.h"

#include <cstdint>
#include <utility>
#include <vector>

namespace bichrom {

/// Edges at which the same plate changes in the same way.
struct TrapGroup
{
    int plate, cover;
    std::uint8_t threshold;
    bool holds;
    TrapRing ring;
    /// By column, the rows that are known to be covered, the first and the last: what one seed has looked at
    /// the next one in that column need not. Empty until it is asked for.
    std::vector<std::pair<int, int>> columns{};
};

} // namespace bichrom
