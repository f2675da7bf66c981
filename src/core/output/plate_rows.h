/// \file
/// The plates of a page as 8-bit rows, band by band.
/// Layer: core/output, private.
#pragma once

#include "core/output/plane_spool.h"
#include "core/output/prepared_page.h"

#include <functional>

namespace bichrom {

/// Takes the rows of a band of one of the page's chosen plates, without padding; \p plate counts those
/// chosen. Bands come from top to bottom, their plates in order.
using TakePlateRows =
    std::function<Done(std::size_t plate, const Band &band, std::span<const std::uint8_t> rows)>;

/// Rows of a band so that bands fit the cache; a multiple of 256.
[[nodiscard]] int plate_band_rows(const PreparedPage &page);

/// Runs the chosen plates of \p page, antialiased, into \p take, and fills in their coverage and the damage
/// met. TooLarge for plates of more than 131072 pixels a side; as PlateLine::run(), pass_damage().
[[nodiscard]] Done run_plate_rows(const PreparedPage &page, Dpi resolution, int band_rows, int threads,
                                  const Job &job, const TakePlateRows &take, Manifest &manifest,
                                  const JobControl &control);

/// The plates of a page that are worth keeping, waiting on disk.
struct SpooledPlates
{
    Manifest manifest;                ///< of those
    std::vector<std::size_t> numbers; ///< of the job's plates
    std::vector<PlaneSpool> spools;   ///< a row after the other, ready to be read
    int width = 0, height = 0;
};

/// \param beside  the file that will be made of them. As prepare_page(), run_plate_rows(), leave_out_blank().
[[nodiscard]] Outcome<SpooledPlates> spool_plates(const OpenedJob &opened, Dpi resolution, PageBox box,
                                                  const OutputRequest &request,
                                                  const std::filesystem::path &beside,
                                                  const JobControl &control);

} // namespace bichrom
