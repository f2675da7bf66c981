/// \file
/// A job that prints an artwork in chosen inks, and how near it comes.
/// Layer: core/separate. May use core/job, core/line, core/print, core/proof.
#pragma once

#include "core/colour/ink_book.h"
#include "core/job/job_file.h"

#include <string>
#include <vector>

namespace bichrom {

struct SeparationWish
{
    double choke_mm = 0;  ///< that white is narrower by, its tones kept; 0 = not, and not under square dots
    double ink_limit = 0; ///< as of a Route, white counted
    IndexDots dots{};     ///< of pictures
};

/// The job with a plate for each of \p inks, in their order: pictures and shadings are solved into all of
/// them together, every other colour by itself into fixed tints. White is a plate of the solution like the
/// others. Plates and routes of before go. \return OutOfRange without inks, or with more than
/// ColourTable::most_inks
[[nodiscard]] Outcome<Job> separated_job(Job job, const Scene &scene, const std::vector<BookInk> &inks,
                                         const SeparationWish &wish = {});

/// The job with other \p targets of its separated route number \p route, whose inks stay the same. Colours
/// that were solved along with it, and that nobody has sent elsewhere since, are solved anew.
[[nodiscard]] Job with_controls(Job job, const Scene &scene, std::size_t route,
                                std::vector<RouteTarget> targets);

/// The job with separated route number \p route printed in such dots, or in tones again. A white that was
/// only narrower than the separation makes it is so no more: dots are too small for it.
[[nodiscard]] Job with_dots(Job job, std::size_t route, const IndexDots &dots);

/// The job with a second white plate in front of all, "Highlight …": where the base is nearly solid and no
/// colour lies on it, within the ink limit of what is separated. Without a white plate the job is as it was.
[[nodiscard]] Job with_highlight(Job job);

/// How near the print comes to the artwork, where it paints.
struct SeparationReport
{
    double median = 0, p95 = 0, mean = 0; ///< CIEDE2000
    double worst = 0;                     ///< the same, the mean around the worst place
    double worst_x = 0, worst_y = 0;      ///< mm from the page's top left
    double beyond = 0;                    ///< share of what is painted that is ΔE 6 or more off, 0 to 1
    std::vector<double> coverage;         ///< by plate, mean tone over what is painted, 0 to 1
    int width = 0, height = 0;
    std::vector<std::uint8_t> map; ///< ΔE × 10 at most 255, by pixel; 0 where nothing is painted
};

/// As wished_colours(), PlateLine::make(). \p side  pixels of the longer side at most; square dots are looked
/// at from so far that four make up a pixel
[[nodiscard]] Outcome<SeparationReport> measure_separation(const OpenedJob &opened, int side = 700,
                                                           const JobControl &control = {});

} // namespace bichrom
