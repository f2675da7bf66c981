/// \file
/// The sheet a film is written on: the art at true size, marks and a label around it.
/// Layer: core/fit. May use core/job, core/artwork, core/raster, core/base.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/job.h"
#include "core/raster/plane.h"

#include <string>
#include <vector>

namespace bichrom {

/// Ready film pixels to be laid onto a sheet; x is a multiple of 64.
struct MarkTile
{
    int x = 0;
    int y = 0;
    Bitmap bits;
};

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
    PixelRect art; ///< x and y are multiples of 64
    Dpi resolution;
    std::vector<PixelRect> registration; ///< the squares the four marks fill
    std::vector<WedgePatch> wedge;       ///< empty where there is no room; of one on the base too
    int base = -1; ///< the plate that prints solid under patches on the base, and not in them; −1 = none
    std::vector<MarkTile> common;             ///< the same on every film
    std::vector<std::vector<MarkTile>> plate; ///< labels, by plate
    [[nodiscard]] Millimetres to_length(int pixels) const
    {
        return Millimetres(pixels * millimetres_per_inch / resolution.value);
    }
};

/// What stands on the label besides the plate's own data.
struct LabelText
{
    std::string date;  ///< e.g. "2026-11-25"; left out when empty
    bool page = false; ///< whether the page's number stands on it, as it must where there are several
};

/// The label of plate \p index: job, page, ink, order, screen, resolution, reading, date.
[[nodiscard]] std::string film_label(const Job &job, std::size_t index, const LabelText &text);

/// Lays out the sheet for art of \p art_width × \p art_height pixels.
///
/// With marks: registration marks (cross and ring of 8 mm, lines of 1 pt) at the middle
/// of each side, 3 mm from the art; crop marks at the corners of the trim box; a step wedge of 1 to 100 %
/// where there is room, on bare stock and, when the job has a white base under its colours, once more on
/// that; a label at the foot. Without marks the sheet is the art. \param trim  in mm from the art's top left
/// \return TooLarge when the sheet has more than 131072 pixels on a side
[[nodiscard]] Outcome<FilmSheet> lay_out_film(const Job &job, int art_width, int art_height, const Rect &trim,
                                              const LabelText &text);

/// Lays \p tile onto rows [top, top + rows.height) of a film as wide as the sheet.
void lay_tile(const MarkTile &tile, int top, Bitmap &rows);

} // namespace bichrom
