/// \file
/// How plates that meet are made to overlap, as the artist set it.
/// Layer: core/job. May use core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/base/page_list.h"
#include "core/base/units.h"

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// Who spreads where two plates meet.
enum class TrapSide
{
    Usual, ///< as their densities and kinds say
    First, ///< the first of the pair, under the second
    Second,
    Both, ///< each by half the width
    None
};
inline constexpr std::array<TrapSide, 5> all_trap_sides = {TrapSide::Usual, TrapSide::First, TrapSide::Second,
                                                           TrapSide::Both, TrapSide::None};
[[nodiscard]] const char *to_string(TrapSide side); ///< "usual", "first", "second", "both", "none"
[[nodiscard]] Outcome<TrapSide> parse_trap_side(std::string_view name);

/// What the artist decided for one pair of plates.
struct TrapPair
{
    std::string first, second; ///< inks
    TrapSide side = TrapSide::Usual;
    std::optional<double> width{}; ///< mm; none = that of all pairs
    friend bool operator==(const TrapPair &, const TrapPair &) = default;
};

/// A rectangle of the page with a width of its own.
struct TrapZone
{
    Rect area; ///< mm from the media box's top left, y down
    int page = 1;
    double width = 0; ///< mm; 0 = no traps there
    friend bool operator==(const TrapZone &, const TrapZone &) = default;
};

/// All lengths in mm, 0 to 1.
struct TrapSettings
{
    bool on = false;
    double width = 0.1;
    /// What the supporting inks of a rich black draw back from its edge; 0 = nothing.
    double hold_back = 0.05;
    /// What a white base draws back where it ends together with the colours on it; 0 = nothing.
    double base_choke = 0;
    /// How much darker, in L*, an overlap may be than the ink that covers it; beyond, the trap is lightened.
    /// 5 to 100.
    double darker = 20;
    /// Under strokes thinner than three widths: a third of the stroke, else nothing.
    bool under_thin = true;
    std::vector<TrapPair> pairs{}; ///< no pair twice, in either order
    std::vector<TrapZone> zones{}; ///< the last that holds a place decides
    friend bool operator==(const TrapSettings &, const TrapSettings &) = default;

    /// What is decided for two inks, turned so that \p first is its first; Usual when nothing is.
    [[nodiscard]] TrapPair pair_of(const std::string &first, const std::string &second) const;
    /// The widest that any trap, hold-back or choke can be, mm; 0 when traps are off.
    [[nodiscard]] double widest() const;
};

/// Lengths within their bounds. OutOfRange.
[[nodiscard]] Done check_traps(const TrapSettings &traps);

/// \p settings with \p pair instead of what was decided for its two inks; one that decides nothing is left
/// out.
[[nodiscard]] TrapSettings with_pair(TrapSettings settings, TrapPair pair);

} // namespace bichrom
