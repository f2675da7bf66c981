/// \file
/// The transfer curve of sRGB (IEC 61966-2-1).
/// Layer: core/colour.
#pragma once

#include <cmath>

namespace bichrom {

/// Encoded value to linear light, both 0 to 1.
template <typename Real> [[nodiscard]] Real srgb_to_linear(Real value)
{
    return value <= Real(0.04045) ? value / Real(12.92)
                                  : std::pow((value + Real(0.055)) / Real(1.055), Real(2.4));
}

/// Linear light to encoded value, both 0 to 1.
template <typename Real> [[nodiscard]] Real linear_to_srgb(Real light)
{
    return light <= Real(0.0031308) ? light * Real(12.92)
                                    : Real(1.055) * std::pow(light, Real(1.0) / Real(2.4)) - Real(0.055);
}

} // namespace bichrom
