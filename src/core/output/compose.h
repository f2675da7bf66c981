/// \file
/// A PDF in which every plate is a named ink.
/// Layer: core/output. May use core/artwork, core/colour, core/job, core/line, core/raster.
#pragma once

#include "core/base/job_control.h"
#include "core/job/job_file.h"

#include <filesystem>
#include <string>
#include <vector>

namespace bichrom {

/// How a plate stands in the file.
enum class Composed
{
    Artwork, ///< as the artwork's own shapes, text outlines and pictures
    Shapes,  ///< computed, and written as outlines
    Line,    ///< computed, and written as a stroked line
    Picture, ///< computed, with tones: a grey picture of 300 dpi at most
    Nothing  ///< prints nothing
};

struct ComposedPlate
{
    std::string ink;
    Composed how = Composed::Artwork;
};

/// What was written.
struct ComposedPdf
{
    std::vector<ComposedPlate> plates; ///< in printing order
    std::vector<std::string> damage;   ///< of the artwork, accepted
};

/// Writes \p opened's page as one page of PDF with its boxes: plates of the artwork as its routes make them,
/// text as outlines, knocking out and overprinting as they print; then the computed plates, all overprinting.
/// Flat ones are exact shapes where the artwork has nothing but flat opaque shapes and the recipe does not
/// look at single plates or objects; else outlines of a mask of 600 dpi or less, true to a tenth of its
/// pixels. Solid inks look in composite viewers as their colours do in the job's printing condition. \return
/// what was written; NothingToPrint, Damaged, CannotRead, TooLarge, CannotWrite, Cancelled; then no file
/// is left or changed
[[nodiscard]] Outcome<ComposedPdf> compose_pdf(const OpenedJob &opened, const std::filesystem::path &path,
                                               const JobControl &control = {});

} // namespace bichrom
