/// \file
/// The tables by which routes separate pictures.
/// Layer: core/page, private to the core. May use core/colour, core/job, core/print.
#pragma once

#include "core/artwork/page_memory.h"
#include "core/base/job_control.h"
#include "core/colour/colour_table.h"
#include "core/colour/index_dots.h"
#include "core/page/plate_setup.h"
#include "core/print/ink_solver.h"

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

/// How a picture is printed in dots of one ink each.
struct IndexedPicture
{
    IndexDots dots;
    std::vector<IndexColour> colours;
    std::vector<std::vector<std::size_t>> solid; ///< by colour, the inks that print there
    LightnessReach reach;
};

/// From colours to tones of inks.
struct PictureTable
{
    std::shared_ptr<const ColourTable> table; ///< never null
    std::vector<std::string> inks;            ///< of its tones
    SeparationNote note{};                    ///< of separated ones
    IndexedPicture indexed{};                 ///< of pictures, where dots are wanted
};
using PictureTables = std::map<int, PictureTable>; ///< by number of the route

/// The tables that \p setup's routes need: to plates separated together, and to process inks with another
/// amount of black. They take seconds, and are kept: separations in \p of_file, amounts of black in
/// \p of_page. Cancelled.
[[nodiscard]] Outcome<PictureTables> picture_tables(const PlateSetup &setup, const ProcessProfile &condition,
                                                    PageMemory &of_page, PageMemory &of_file,
                                                    const JobControl &control);

} // namespace bichrom
