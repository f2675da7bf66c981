/// \file
/// How dark a tint measures, between bare stock and solid ink.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/colour/spaces.h"

namespace bichrom {

/// Tone value, 0 to 1, of a tint of \p density by Murray–Davies, or by Yule–Nielsen with \p n above 1:
/// (1 − 10^(−D/n)) / (1 − 10^(−Ds/n)).
/// \param density, solid  above the stock's own; 0 where \p solid is not above 0
[[nodiscard]] double murray_davies(double density, double solid, double n = 1);

/// Spot tone value, 0 to 1, of a tint (ISO 20654; formula from memory): how far it lies between stock and
/// solid by lightness-like values of X, Y and Z. 0 where stock and solid are one colour. All D50/2°
[[nodiscard]] double spot_tone_value(const Lab &stock, const Lab &solid, const Lab &tint);

} // namespace bichrom
