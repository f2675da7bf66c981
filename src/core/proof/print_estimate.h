/// \file
/// The colour of a print at a place, layer by layer.
/// Layer: core/proof. May use core/colour, core/job.
#pragma once

#include "core/colour/process_profile.h"
#include "core/job/job.h"

#include <optional>
#include <span>
#include <vector>

namespace bichrom {

/// What a place looks like from the stock up.
struct PrintEstimate
{
    Lab stock;               ///< bare, or what lies behind film
    std::vector<Lab> after;  ///< by plate of the job: with it and all that lie nearer to the stock
    Lab seen;                ///< the print
    bool predictable = true; ///< false where metal or foil lies: their colour depends on the light
    [[nodiscard]] const Lab &print() const { return seen; }
};

/// The layered model of ink_film.h in printing order; process inks that follow each other go through \p
/// condition relative to its paper, as in the look of the light table but without its marks. Technical plates
/// are not seen.
/// \param tones  by plate of the job, 0 to 1; missing ones count as bare
[[nodiscard]] PrintEstimate estimate_print(const Job &job, std::span<const double> tones,
                                           const ProcessProfile &condition);

/// The mean colour of sRGB pixels 0xFFRRGGBB, averaged as light. None of no pixels.
[[nodiscard]] std::optional<Lab> mean_colour(std::span<const std::uint32_t> pixels);

} // namespace bichrom
