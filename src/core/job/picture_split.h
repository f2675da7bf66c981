/// \file
/// Flat artwork in pixels: which of its colours goes to which plate.
/// Layer: core/job. May use core/colour.
#pragma once

#include "core/job/job.h"

#include <span>

namespace bichrom {

/// Each of \p colours (sRGB) to the plate that looks most like it; what looks more like the stock is
/// background. Tolerance, despeckling and outlines are those of \p settings.
[[nodiscard]] PaletteSplit propose_split(std::span<const std::array<std::uint8_t, 3>> colours, const Job &job,
                                         PaletteSplit settings = {});

} // namespace bichrom
