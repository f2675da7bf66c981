/// \file
/// How films are written: what stands on their sheet, how often, at what size, with which marks.
/// Layer: core/job. May use core/artwork, core/base.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/outcome.h"
#include "core/base/units.h"

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

enum class FilmFormat
{
    Tiff,      ///< one Group 4 TIFF for each plate
    Pdf,       ///< one PDF with a page for each plate
    PostScript ///< the same as PostScript
};
[[nodiscard]] const char *to_string(FilmFormat format); ///< "tiff", "pdf", "ps"
[[nodiscard]] Outcome<FilmFormat> parse_film_format(std::string_view name);

enum class RegistrationMark
{
    None,
    Cross,
    CrossInRing
};
inline constexpr std::array<RegistrationMark, 3> all_registration_marks = {
    RegistrationMark::None, RegistrationMark::Cross, RegistrationMark::CrossInRing};
[[nodiscard]] const char *to_string(RegistrationMark mark); ///< "none", "cross", "cross in ring"
[[nodiscard]] Outcome<RegistrationMark> parse_registration_mark(std::string_view name);

/// What a label can say of its film.
enum class LabelPiece
{
    Job,
    Number, ///< the customer's, as the artist wrote it
    Page,   ///< where there are several
    Ink,
    Order, ///< "plate 2 of 5"
    Size,  ///< of the art, and how it is scaled and stretched
    Screen,
    Printing, ///< mesh, hits, wet on wet, flash
    Resolution,
    Side, ///< right- or wrong-reading, negative
    Date
};
inline constexpr std::array<LabelPiece, 11> all_label_pieces = {
    LabelPiece::Job,        LabelPiece::Number, LabelPiece::Page,   LabelPiece::Ink,
    LabelPiece::Order,      LabelPiece::Size,   LabelPiece::Screen, LabelPiece::Printing,
    LabelPiece::Resolution, LabelPiece::Side,   LabelPiece::Date};
[[nodiscard]] const char *to_string(LabelPiece piece); ///< "job", "number" …
[[nodiscard]] Outcome<LabelPiece> parse_label_piece(std::string_view name);

/// The marks of a job's films. A value that shops keep and use again.
struct MarkSet
{
    RegistrationMark registration = RegistrationMark::CrossInRing; ///< at the middle of each side
    double size = 8;       ///< mm a registration mark is wide, 2 to 30
    double line = 1;       ///< pt that lines are wide, 0.1 to 6 (1: common practice, no source)
    double distance = 3;   ///< mm from the art to the marks, 0 to 50
    bool corners = false;  ///< registration marks at the corners too
    bool crop = true;      ///< at the corners of the trim box
    bool bleed = false;    ///< and of the bleed box
    bool centre = false;   ///< short lines at the middle of each side of the trim, as on a platen
    bool pinholes = false; ///< round targets to punch by, left and right
    bool ruler = false;    ///< 100 mm at the foot, stretched as the art is
    bool wedge = true;     ///< on bare stock, and once more over a white base
    /// Percent; none = as many of the usual ones as there is room for. 0 to 100.
    std::vector<double> wedge_steps{};
    bool patches = false; ///< a solid patch and one of 50 % beside the art at its head
    bool label = true;
    std::vector<LabelPiece> pieces{all_label_pieces.begin(), all_label_pieces.end()};
    std::string number{}; ///< the customer's
    friend bool operator==(const MarkSet &, const MarkSet &) = default;
};

/// How the films of a job are written.
struct FilmOptions
{
    Dpi resolution{1200};
    FilmFormat format = FilmFormat::Tiff;
    PageBox box = PageBox::Media;
    /// Films hold no more of that box than is painted on any plate, and marks stand around it.
    bool around_art = false;
    bool marks = true;
    bool mirror = false;   ///< wrong-reading: turned over left to right
    bool negative = false; ///< ink and bare swapped over the whole sheet
    MarkSet mark_set{};    ///< where there are marks
    /// What the art is stretched by across and along (down) the film, so that what bends or pulls the plate
    /// brings it back; 0.5 to 2. Of films and plate files, not of what is looked at.
    double across = 1, along = 1;
    int columns = 1, rows = 1; ///< copies of the art, 1 to 100
    double gap = 0;            ///< mm between copies, 0 to 1000
    /// mm of a film that is larger than art and marks need; 0 = as small as they allow.
    double sheet_width = 0, sheet_height = 0;
    double from_left = -1, from_top = -1; ///< mm from its edges to the art; negative = in the middle
    friend bool operator==(const FilmOptions &, const FilmOptions &) = default;
};

/// 72 to 5080 dpi. OutOfRange.
[[nodiscard]] Done check_resolution(Dpi resolution);

/// The resolution, and all that stands above. OutOfRange.
[[nodiscard]] Done check_film(const FilmOptions &film);

} // namespace bichrom
