/// \file
/// How different two colours look.
/// Layer: core/colour.
#pragma once

#include "core/colour/process_profile.h"

namespace bichrom {

/// CIEDE2000 with kL = kC = kH = 1 (ISO/CIE 11664-6), between colours of any lightness and chroma.
/// 1 is about what is just seen side by side.
[[nodiscard]] double ciede2000(const Lab &a, const Lab &b);

/// CIELAB chroma, and hue in degrees from 0 to 360 (0 for greys).
[[nodiscard]] double chroma(const Lab &lab);
[[nodiscard]] double hue(const Lab &lab);

} // namespace bichrom
