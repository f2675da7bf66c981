/// \file
/// Artwork that repeats so finely that it beats with the screens it is made of: hatchings, patterns, scans of
/// what was screened before, fabrics.
/// Layer: core/screen. May use core/line.
#pragma once

#include "core/line/plate_line.h"
#include "core/screen/moire.h"

#include <vector>

namespace bichrom {

/// Where a plate's tones repeat.
struct ArtPeriod
{
    std::size_t plate = 0; ///< of the line's inks
    Lattice lattice;       ///< its ruling, and the swing of its tones as a share of full ink
    double tone = 0;       ///< mean there, 0 to 1
    double x = 0, y = 0;   ///< mm from the page's top left: the middle of where it is strongest
};

/// What repeats 8 to 100 times an inch, evenly over 43 mm, with a swing of 4 % or more: of each plate the
/// strongest four. Looked for at 300 dpi in the squares in which tones differ most, so many of a plate as
/// keep the time within a second or two: something small on a large page may be missed. Errors as
/// PlateLine::render().
[[nodiscard]] Outcome<std::vector<ArtPeriod>> find_art_periods(const PlateLine &line,
                                                               const JobControl &control = {});

} // namespace bichrom
