/// \file
/// A PDF in which every plate is a named ink.
/// Layer: core/output. May use core/artwork, core/colour, core/job, core/line, core/raster.
#pragma once

#include "core/base/job_control.h"
#include "core/job/job_file.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// How a plate stands in the file.
enum class Composed
{
    Artwork, ///< as the artwork's own shapes, text and pictures
    Shapes,  ///< computed, and written as outlines
    Line,    ///< computed, and written as a stroked line
    Picture, ///< computed, with tones: a grey picture of 300 dpi at most
    Pixels,  ///< in pixels, as the form asks
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
    std::vector<std::string> damage;  ///< of the artwork, accepted
    std::vector<std::string> against; ///< of form X4: what does not keep to PDF/X-4, a sentence each
};

/// What kind of PDF.
enum class PdfForm
{
    X4,       ///< shapes stay shapes; PDF/X-4, ISO 15930-7
    Flat,     ///< PDF 1.3 for old RIPs: a picture of all plates a page, nothing transparent
    Separated ///< PDF 1.3, a grey page for each plate
};
[[nodiscard]] const char *to_string(PdfForm form); ///< "pdfx4", "flat", "separated"
[[nodiscard]] Outcome<PdfForm> parse_pdf_form(std::string_view name);

/// What to write.
struct ComposeRequest
{
    PageList pages{};                ///< ascending; empty = the one that the job is worked on
    std::vector<std::string> inks{}; ///< whose plates; empty = all
    std::string accept_damage{}; ///< why damage of the pages is accepted; empty = only what the job accepts
    PdfForm form = PdfForm::X4;
    std::string date = "2000-01-01"; ///< of making, as the file tells it
    Dpi resolution{600};             ///< of Flat and Separated
};

/// Writes pages of \p opened as pages of a PDF with their boxes. As X4: plates of the artwork as its routes
/// make them, text in its fonts, JPEGs that no route changes as they are, knocking out and overprinting as
/// they print; then the computed plates, all overprinting. Flat ones are exact shapes where the artwork has
/// nothing but flat opaque shapes and the recipe does not look at single plates or objects; else outlines of
/// a mask of 600 dpi or less, true to a tenth of its pixels. Solid inks look in composite viewers as their
/// colours do in the job's printing condition. What the artwork makes, each computed plate and the traps are
/// layers. The other forms hold the pixels of the plates, antialiased, without those that print nothing.
/// \return what was written; NothingToPrint, UnknownInk, Damaged, CannotRead, TooLarge,
/// CannotWrite, Cancelled; then no file is left or changed
[[nodiscard]] Outcome<ComposedPdf> compose_pdf(const OpenedJob &opened, const std::filesystem::path &path,
                                               const ComposeRequest &request = {},
                                               const JobControl &control = {});

} // namespace bichrom
