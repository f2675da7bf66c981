/// \file
/// Where two pictures of a page differ.
/// Layer: core/proof. May use core/colour.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// The difference that is drawn darkest.
inline constexpr double darkest_difference = 25.0; ///< ΔE, CIEDE2000

/// How different two pictures look, pixel by pixel: 0 = alike, 255 = darkest_difference or more.
/// \param a, b  words 0xFFRRGGBB, sRGB; as many of one as of the other
[[nodiscard]] std::vector<std::uint8_t> difference_map(std::span<const std::uint32_t> a,
                                                       std::span<const std::uint32_t> b);

} // namespace bichrom
