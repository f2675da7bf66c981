/// \file
/// How a plate is screened and how films are written, as the artist set it.
/// Layer: core/job. May use core/artwork, core/base.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/outcome.h"
#include "core/base/units.h"

#include <string_view>

namespace bichrom {

enum class DotShape
{
    Round,   ///< circles that touch at 78.5 %
    Ellipse, ///< longer along the screen angle; touch first end to end, then side to side
    Line     ///< unbroken lines along the screen angle
};

inline constexpr DotShape all_dot_shapes[] = {DotShape::Round, DotShape::Ellipse, DotShape::Line};
[[nodiscard]] const char *to_string(DotShape shape); ///< "round", "ellipse", "line"
[[nodiscard]] Outcome<DotShape> parse_dot_shape(std::string_view name);

/// How one plate is screened.
struct Screen
{
    Lpi ruling{55};
    Degrees angle{22.5}; ///< anticlockwise from the horizontal, seen on a right-reading film
    DotShape dot = DotShape::Round;
    friend bool operator==(const Screen &, const Screen &) = default;
};

/// Ruling 1 to 600 lpi and at most a third of the resolution; angle −360° to 360°. OutOfRange.
[[nodiscard]] Done check_screen(const Screen &screen, Dpi resolution);

enum class FilmFormat
{
    Tiff, ///< one Group 4 TIFF for each plate
    Pdf   ///< one PDF with a page for each plate
};
[[nodiscard]] const char *to_string(FilmFormat format); ///< "tiff", "pdf"
[[nodiscard]] Outcome<FilmFormat> parse_film_format(std::string_view name);

/// How the films of a job are written.
struct FilmOptions
{
    Dpi resolution{1200};
    FilmFormat format = FilmFormat::Tiff;
    PageBox box = PageBox::Media;
    bool marks = true;
    bool mirror = false;   ///< wrong-reading: turned over left to right
    bool negative = false; ///< ink and bare swapped over the whole sheet
    friend bool operator==(const FilmOptions &, const FilmOptions &) = default;
};

/// 72 to 5080 dpi. OutOfRange.
[[nodiscard]] Done check_resolution(Dpi resolution);

} // namespace bichrom
