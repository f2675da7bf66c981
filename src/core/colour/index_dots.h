/// \file
/// Pictures as dots that are one ink each.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/colour/ink_control.h"
#include "core/colour/spaces.h"

#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// What a dot may be.
struct IndexColour
{
    Lab printed;
    HueHold hues{}; ///< of what it may stand for
};

/// A grid of colours wanted, rows top down.
struct IndexGrid
{
    int width = 0, height = 0;
    std::vector<Xyz> wish;          ///< light, D50; a dot each
    std::vector<std::uint8_t> bare; ///< 1 where nothing is wanted; empty = nowhere
};

inline constexpr std::uint8_t no_index = 255; ///< of a dot that prints nothing

/// Which of \p colours each dot is: the nearest in CIELAB, of \p diffused grids after what its neighbours
/// were off has been shared out by the weights of R. Floyd and L. Steinberg (Proc. SID 17, 1976: 7, 3, 5 and
/// 1 sixteenths), rows by turns from either side. It is shared out as square roots of light, since dots of
/// ink look as if they mixed so (see ink_film.h): the mean over an area is that of the wish, where the
/// colours reach it; what they do not is not carried far. Bare dots take and give nothing. \return no_index
/// where bare. OutOfRange without colours or with more than 254; Cancelled
[[nodiscard]] Outcome<std::vector<std::uint8_t>> index_dots(const IndexGrid &grid,
                                                            std::span<const IndexColour> colours,
                                                            bool diffused, const JobControl &control = {});

} // namespace bichrom
