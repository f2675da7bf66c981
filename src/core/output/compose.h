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

struct ComposedPage
{
    int number = 1;
    std::vector<ComposedPlate> plates; ///< in printing order
};

/// What was written.
struct ComposedPdf
{
    std::vector<ComposedPage> pages;
    std::vector<std::string> damage; ///< of the artwork, accepted
};

/// What to write.
struct ComposeRequest
{
    PageList pages{};                ///< ascending; empty = the one that the job is worked on
    std::vector<std::string> inks{}; ///< whose plates; empty = all
    std::string accept_damage{}; ///< why damage of the pages is accepted; empty = only what the job accepts
};

/// Writes pages of \p opened as pages of a PDF with their boxes: plates of the artwork as its routes make
/// them, text as outlines, knocking out and overprinting as they print; then the computed plates, all
/// overprinting. Flat ones are exact shapes where the artwork has nothing but flat opaque shapes and the
/// recipe does not look at single plates or objects; else outlines of a mask of 600 dpi or less, true to a
/// tenth of its pixels. Solid inks look in composite viewers as their colours do in the job's printing
/// condition. \return what was written; NothingToPrint, UnknownInk, Damaged, CannotRead, TooLarge,
/// CannotWrite, Cancelled; then no file is left or changed
[[nodiscard]] Outcome<ComposedPdf> compose_pdf(const OpenedJob &opened, const std::filesystem::path &path,
                                               const ComposeRequest &request = {},
                                               const JobControl &control = {});

} // namespace bichrom
