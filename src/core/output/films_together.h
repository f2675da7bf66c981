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
    int width = 0;  ///< pixels of each sheet
    int height = 0; ///< pixels of each sheet
    int sheets = 0;
    std::vector<TogetherPlace> places; ///< by film
};

/// Lays \p count films of \p width × \p height pixels, as they are before they are turned, in rows, in order,
/// as close as the gap allows. Sheets are of one size: the request's, or on a roll as long as the films need.
/// \return OutOfRange when not even one fits
[[nodiscard]] Outcome<TogetherPlan> plan_together(int width, int height, std::size_t count, Dpi resolution,
                                                  const FilmsTogether &on);

/// The area of all sheets, cm².
[[nodiscard]] double film_used(const TogetherPlan &plan, Dpi resolution);

/// Writes the films that \p separate describes, TIFFs in \p from, onto the sheets of the request, each a TIFF
/// or a page of one document as \p format says, publishes them in its folder and says where each lies.
/// CannotRead, CannotWrite, DiskFull, OutOfRange, Cancelled.
[[nodiscard]] Outcome<Manifest> put_together(Manifest separate, const std::filesystem::path &from,
                                             const std::string &name, FilmFormat format,
                                             const OutputRequest &request, const JobControl &control);

} // namespace bichrom
