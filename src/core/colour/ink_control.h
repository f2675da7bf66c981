/// \file
/// What an artist wants of one ink among those that colours are solved into.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/spaces.h"

#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// A range of hues that an ink is held to.
struct HueHold
{
    static constexpr double least_width = 20, all = 360; ///< degrees
    static constexpr double soft = 20;                   ///< degrees over which it fades, on either side

    double middle = 0; ///< degrees of CIELAB's h_ab, 0 to 360: 0 purplish red, 90 yellow, 180 green, 270 blue
    double width = all; ///< degrees, both sides together; all = every colour, greys too

    [[nodiscard]] bool holds() const { return width < all; }
    /// How much of the ink \p wish may have at most, 0 to 1: nothing outside, and in greys, which have no hue
    /// (chroma under 4; all of it from 12 on).
    [[nodiscard]] double share(const Lab &wish) const;
    friend bool operator==(const HueHold &, const HueHold &) = default;
};

/// "30-90": from the first hue to the second, clockwise as hues count; or "all". OutOfRange.
[[nodiscard]] Outcome<HueHold> parse_hues(std::string_view text);
/// "hues 30° to 90°"
[[nodiscard]] std::string describe(const HueHold &hold);

/// One ink's part of a separation.
struct InkControl
{
    static constexpr double most_strength = 2;

    double strength = 1; ///< what is solved times this, at most solid; 0 to most_strength
    HueHold hues;        ///< it prints in these; the other inks are solved without it elsewhere
    std::vector<std::string> never_with; ///< inks that it does not share a place with
    friend bool operator==(const InkControl &, const InkControl &) = default;
};

} // namespace bichrom
