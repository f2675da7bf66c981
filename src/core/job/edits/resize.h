/// \file
/// How large the artwork is printed.
/// Layer: core/job/edits. May use core/job.
#pragma once

#include "core/job/job.h"

namespace bichrom {

/// The job at \p factor times its size: the artwork with all that is placed on it, and every place that the
/// job remembers on the page. Lengths that belong to the print stay: traps, chokes, lines.
/// Of jobs whose bleed is made the bleed stays too.
/// \param factor  more than 0; whether the size can be made assemble() says
/// \param artwork as the job has it now. NoSuchPage
[[nodiscard]] Outcome<Job> resized(Job job, double factor, const Artwork &artwork);

/// The job as outputs see it: the artwork stretched by what the job's films ask for, and with it every place
/// on the page; its films ask for no stretch any more.
[[nodiscard]] Job stretched_for_press(Job job);

/// What is measured when a size is given.
enum class SizeOf
{
    Trim, ///< the trim box; without one the page
    Page, ///< the media box
    Art   ///< what is painted
};

/// The factor that brings \p size (mm) to a wanted width or height, or both: the smaller then, so that it
/// fits. \param width, height  mm; 0 = as it comes. OutOfRange when \p size is empty or nothing is wanted
[[nodiscard]] Outcome<double> factor_for(const Rect &size, double width, double height);

/// The rectangle that \p of means on the page, mm. \param painted  what is painted (painted_area())
[[nodiscard]] Rect area_of_size(const PageInfo &page, const Rect &painted, SizeOf of);

} // namespace bichrom
