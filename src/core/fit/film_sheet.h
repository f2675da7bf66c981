/// \file
/// The sheet a film is written on: the art at true size, once or repeated, marks and a label around it.
/// Layer: core/fit. May use core/job, core/artwork, core/raster, core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/fit/film_label.h"
#include "core/fit/mark_tiles.h"
#include "core/job/job.h"
#include "core/raster/plane.h"

#include <string>
#include <vector>

namespace bichrom {

/// The art that comes onto a sheet.
struct FilmArt
{
    int width = 0, height = 0; ///< pixels
    Rect trim{};               ///< mm from its top left
    Rect bleed{};              ///< the same
};

/// The art of a page of \p width × \p height, which \p film may yet stretch.
[[nodiscard]] FilmArt film_art(const PageInfo &page, Points width, Points height, const FilmOptions &film);

/// A patch of even tone in the step wedge.
struct WedgePatch
{
    PixelRect rect; ///< on the sheet
    std::uint8_t tone = 0;
    bool on_base = false; ///< the job's white base lies solid under it
};

/// Where everything lies on every film of a job, in pixels from the sheet's top left.
struct FilmSheet
{
    int width = 0;
    int height = 0;
    PixelRect art; ///< with all copies; x and y are multiples of 64 where the sheet is as small as it can be
    int copy_width = 0, copy_height = 0; ///< of one copy
    int columns = 1, rows = 1;           ///< of copies
    int column_pitch = 0, row_pitch = 0; ///< from one copy to the next
    Dpi resolution;
    std::vector<PixelRect> registration; ///< the squares the registration marks fill
    std::vector<WedgePatch> wedge;       ///< empty where there is no room; of one on the base too
    int base = -1; ///< the plate that prints solid under patches on the base, and not in them; −1 = none
    std::vector<MarkTile> common;             ///< the same on every film
    std::vector<std::vector<MarkTile>> plate; ///< labels, by plate
    [[nodiscard]] Millimetres to_length(int pixels) const
    {
        return Millimetres(pixels * millimetres_per_inch / resolution.value);
    }
};

/// Lays out the sheet.
///
/// Marks stand at their distance around the art, as the job's mark set says: registration marks at the middle
/// of each side (of the trim where centre marks are wanted), crop and bleed marks at the corners, the ones of
/// inner copies on the outer edge; a step wedge where there is room, on bare stock and, when the job has a
/// white base under its colours, once more on that; a ruler and a label at the foot. Without marks the sheet
/// is the art.
/// \return TooLarge when the sheet has more than 131072 pixels on a side; OutOfRange when the film asked for
/// is too small for all that, with the size that would do
[[nodiscard]] Outcome<FilmSheet> lay_out_film(const Job &job, const FilmArt &art, const LabelText &text);

} // namespace bichrom
