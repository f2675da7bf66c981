/// \file
/// What changed between two files of a page, ink by ink, as they print.
/// Layer: core/proof. May use core/line, core/raster.
#pragma once

#include "core/line/plate_line.h"

#include <string>
#include <vector>

namespace bichrom {

/// How one ink prints before and after.
struct InkChange
{
    std::string ink;
    double area_mm2 = 0; ///< where its tone differs by more than 5 % of solid
    double before = 0;   ///< share of the page covered, 0 to 1
    double after = 0;
    bool added = false;   ///< the file before had no such plate
    bool removed = false; ///< the file now has none
};

/// Changed pixels that lie together.
struct ChangedPlace
{
    Rect area;                     ///< mm from the page's top left, to two millimetres
    double area_mm2 = 0;           ///< changed in at least one ink
    std::vector<std::string> inks; ///< those that changed there
};

struct PlateChanges
{
    bool page_size = false;           ///< the pages differ in size; they are compared from the top left
    std::vector<InkChange> inks;      ///< those that changed, by area, largest first
    std::vector<ChangedPlace> places; ///< from the top, most_places at most; the largest are kept
    std::size_t places_in_all = 0;

    static constexpr std::size_t most_places = 500;
    [[nodiscard]] bool alike() const { return !page_size && inks.empty(); }
};

/// Compares the plates \p before with those \p after, smooth edges, at 150 dpi or, on pages larger than about
/// A3, so that 8 million pixels are looked at. Inks are told apart by their names. A plate that only one of
/// them has is bare in the other.
/// \return Cancelled, and then nothing; the plate lines' errors. Any thread.
[[nodiscard]] Outcome<PlateChanges> compare_plates(const PlateLine &before, const PlateLine &after,
                                                   const JobControl &control = {});

} // namespace bichrom
