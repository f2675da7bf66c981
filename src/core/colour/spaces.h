/// \file
/// Colour spaces by formula.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/colour/process_profile.h"

#include <array>

namespace bichrom {

/// CIE XYZ under D50 for the 2° observer, Y 1 for the perfect white (ICC.1: 0.9642, 1, 0.8249).
using Xyz = std::array<double, 3>;
inline constexpr Xyz d50_white = {0.9642, 1.0, 0.8249};

[[nodiscard]] Lab xyz_to_lab(const Xyz &xyz); ///< CIE 15
/// The functions of X, Y, Z that L*, a* and b* are differences of (CIE 15). \param slopes  of each by its own
/// of X, Y, Z; null = not asked for
[[nodiscard]] std::array<double, 3> lab_functions(const Xyz &xyz, std::array<double, 3> *slopes = nullptr);
[[nodiscard]] Xyz lab_to_xyz(const Lab &lab);

/// \param rgb  sRGB as encoded, 0 to 1
[[nodiscard]] Lab srgb_to_lab(const std::array<double, 3> &rgb);

} // namespace bichrom
