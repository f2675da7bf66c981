/// \file
/// Numbers for files that people read.
/// Layer: core/base.
#pragma once

#include <cmath>

namespace bichrom {

/// \p value to so many decimals, 0 to 9, as the double that prints so.
[[nodiscard]] inline double rounded(double value, int decimals)
{
    const double parts = std::pow(10.0, decimals);
    return std::round(value * parts) / parts;
}

} // namespace bichrom
