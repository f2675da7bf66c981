/// \file
/// Screens as repeating tiles of thresholds.
/// Layer: core/screen. May use core/job, core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/screen_settings.h"
#include "core/screen/blue_noise.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace bichrom {

/// A screen before curves: place (x, y) of the film is ink where the tone, 0 to 65536, is larger than the
/// threshold there. Every threshold stands as often as any other, as nearly as the number of places allows: a
/// tone of n/65536 inks that share of the film.
struct ThresholdTile
{
    RepeatingLattice lattice{{1, 0}};
    std::vector<std::uint16_t> thresholds; ///< by number of place
    double lpi = 0;                        ///< that it really has; 0 = none
    double angle = 0;                      ///< degrees, as set to 0.01 or better
};

/// Makes the tile of \p screen.
///
/// AM and hybrid: the vector of the screen, cells a pixel, is rounded to a fraction of two Gaussian integers
/// p/q, |q|² up to 2^20 places (2^22 at 0° and 45°), so that the screen repeats exactly. The places of each
/// dot are taken in the order of its shape, the dots of one size in void-and-cluster order, so that tones
/// come in as many steps as the tile has places and not the cell; holes likewise; between them the order
/// slides from one to the other. \return OutOfRange as check_screen(). Takes 0.05 to 2 s; the last ones are
/// kept
[[nodiscard]] Outcome<std::shared_ptr<const ThresholdTile>> threshold_tile(const Screen &screen,
                                                                           Dpi resolution);

} // namespace bichrom
