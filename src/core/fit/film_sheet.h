/// \file
/// The sheet a film is written on: the art at true size, once or repeated, marks and a label around it.
/// Layer: core/fit. May use core/line, core/job, core/artwork, core/raster.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/fit/film_label.h"
#include "core/fit/mark_tiles.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/raster/plane.h"

#include <string>
#include <vector>

namespace bichrom {

/// The part of a page that comes onto a film.
struct FilmPart
{
    Points width, height;
    Rect trim{};      ///< mm from its top left
    Rect bleed{};     ///< the same
    bool cut = false; ///< to what is painted: boxes may lie beyond it
};

/// All of the page of \p plate_line.
[[nodiscard]] FilmPart whole_part(const PlateLine &plate_line);

/// The part of \p part, whose pixels are those of \p film, that films hold which are no larger than what is
/// painted: \p painted, mm from its top left, on whole pixels, with the middle of the trim where that is
/// marked. All of it when nothing is painted.
[[nodiscard]] Rect painted_part(const FilmPart &part, const Rect &painted, const FilmOptions &film);
/// The same of the page of \p plate_line, measured. Errors as painted_area().
[[nodiscard]] Outcome<Rect> painted_part(const PlateLine &plate_line, const FilmOptions &film,
                                         const JobControl &control);
/// \p part cut to \p rect.
[[nodiscard]] FilmPart cut_to(const FilmPart &part, const Rect &rect);

/// The art that comes onto a sheet.
struct FilmArt
{
    int width = 0, height = 0; ///< pixels
    Rect trim{};               ///< mm from its top left
    Rect bleed{};              ///< the same
    bool cut = false;          ///< as of FilmPart
};

/// The art of \p part, which \p film may yet stretch.
[[nodiscard]] FilmArt film_art(const FilmPart &part, const FilmOptions &film);

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
    bool boxes_beyond = false;           ///< lines of the trim or bleed are left out: they lie beyond the art
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
/// white base under its colours, once more on that; a ruler and a label at the foot, an upright ruler on the
/// right where the art is stretched more one way than the other. Lines of boxes that lie beyond an art cut to
/// what is painted are left out. Without marks the sheet is the art.
/// \return TooLarge when the sheet has more than 131072 pixels on a side; OutOfRange when the film asked for
/// is too small for all that, with the size that would do
[[nodiscard]] Outcome<FilmSheet> lay_out_film(const Job &job, const FilmArt &art, const LabelText &text);

} // namespace bichrom
