/// \file
/// Numbers that carry their unit.
/// Layer: core/base.
#pragma once

#include "core/base/outcome.h"

#include <string>
#include <string_view>

namespace bichrom {

/// A double that only mixes with its own kind.
template <typename Tag> struct Quantity
{
    double value = 0.0;

    constexpr Quantity() = default;
    explicit constexpr Quantity(double number) : value(number) {}
    friend constexpr auto operator<=>(const Quantity &, const Quantity &) = default;
};

using Millimetres = Quantity<struct MillimetresTag>;
using Points = Quantity<struct PointsTag>; ///< 1/72 inch
using Dpi = Quantity<struct DpiTag>;       ///< device pixels per inch
using Lpi = Quantity<struct LpiTag>;       ///< halftone lines per inch
using Degrees = Quantity<struct DegreesTag>;

inline constexpr double points_per_inch = 72.0;
inline constexpr double millimetres_per_inch = 25.4;

[[nodiscard]] constexpr Millimetres to_millimetres(Points length)
{
    return Millimetres(length.value * millimetres_per_inch / points_per_inch);
}
[[nodiscard]] constexpr Points to_points(Millimetres length)
{
    return Points(length.value * points_per_inch / millimetres_per_inch);
}

/// A rectangle without a fixed unit; the declaration that uses it names unit and axes.
struct Rect
{
    double x = 0, y = 0, width = 0, height = 0;
    friend bool operator==(const Rect &, const Rect &) = default;
};

/// Whole pixels, y down; right and bottom edges excluded.
struct PixelRect
{
    int x = 0, y = 0, width = 0, height = 0;
    friend bool operator==(const PixelRect &, const PixelRect &) = default;
    [[nodiscard]] bool empty() const { return width <= 0 || height <= 0; }
};

/// Units a length can be shown and typed in.
enum class LengthUnit
{
    Millimetre,
    Inch,
    Point
};

/// Reads "14in", "0.2 mm", "1pt", "2,5 cm"; a bare number is taken in \p bare.
/// \return OutOfRange for text that is no finite length
[[nodiscard]] Outcome<Millimetres> parse_length(std::string_view text,
                                                LengthUnit bare = LengthUnit::Millimetre);

/// Writes a length with its unit, e.g. "355.6 mm", "14 in", "1008 pt"; \p decimals at most.
[[nodiscard]] std::string format_length(Millimetres length, LengthUnit unit, int decimals = 1);

/// Reads a number in the classic locale, comma or point as decimal mark.
[[nodiscard]] Outcome<double> parse_number(std::string_view text);

/// Writes a number with up to \p decimals digits, without trailing zeros, classic locale.
[[nodiscard]] std::string format_number(double number, int decimals);

} // namespace bichrom
