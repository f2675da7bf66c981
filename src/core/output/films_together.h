/// \file
/// Several films on larger ones, so that less of the roll is wasted.
/// Layer: core/output.
#pragma once

#include "core/output/output_set.h"

#include <vector>

namespace bichrom {

/// Where a film lies.
struct TogetherPlace
{
    int sheet = 0;    ///< from 0
    int x = 0, y = 0; ///< pixels from the sheet's top left; x is a multiple of 64
};

/// Films of one size on sheets of one width.
struct TogetherPlan
{
    int width = 0;                     ///< pixels of each sheet
    std::vector<int> heights;          ///< by sheet
    std::vector<TogetherPlace> places; ///< by film
};

/// Lays \p count films of \p width × \p height pixels in rows, in order, as close as the gap allows. The last
/// sheet, and each of a roll, is as long as its films.
/// \return OutOfRange when not even one fits
[[nodiscard]] Outcome<TogetherPlan> plan_together(int width, int height, std::size_t count, Dpi resolution,
                                                  const FilmsTogether &on);

/// Writes the films that \p separate describes, TIFFs in \p from, onto the sheets of the request, publishes
/// them in its folder and says where each lies. CannotRead, CannotWrite, DiskFull, OutOfRange, Cancelled.
[[nodiscard]] Outcome<Manifest> put_together(Manifest separate, const std::filesystem::path &from,
                                             const std::string &name, const OutputRequest &request,
                                             const JobControl &control);

} // namespace bichrom
