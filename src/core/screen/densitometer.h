/// \file
/// What stands on a film: how much ink, and in what dots.
/// Layer: core/screen. May use core/raster, core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/raster/plane.h"

#include <filesystem>

namespace bichrom {

enum class DotKind
{
    Bare,      ///< no ink
    Solid,     ///< nothing but ink
    Dots,      ///< on a lattice
    Lines,     ///< parallel
    Scattered, ///< ink without a ruling: FM, or no halftone at all
};
[[nodiscard]] const char *to_string(DotKind kind); ///< "bare", "solid", "dots", "lines", "scattered"

/// A reading of a patch of film.
struct DotReading
{
    double coverage = 0; ///< share of ink, 0 to 1
    double lpi = 0;      ///< 0 = no ruling
    double angle = 0;    ///< degrees, anticlockwise; 0 to 90 of dots, 0 to 180 of lines
    /// Micrometres: of dots, or of the holes between them, the diameter of a disc as large; of lines, or the
    /// gaps between them, the width; of scattered ink half of its runs are longer.
    double dot_um = 0;
    DotKind kind = DotKind::Bare;
};

/// Reads all of \p film, edges counting little. A ruling of 8 lpi and more is found where at least six
/// periods fit, of up to the middle 2048 × 2048 pixels. \param film  1 = ink \param resolution  above 0
[[nodiscard]] DotReading read_dots(const Bitmap &film, Dpi resolution);

/// A 1-bit film from a file, ours or not.
struct FilmImage
{
    Bitmap bits; ///< 1 = ink
    Dpi resolution;
};

/// Reads a 1-bit TIFF, or \p area of it in mm from the top left (empty = all).
/// FileMissing, CannotRead, WrongFormat for other pixels and for a file that says no resolution, OutOfRange
/// when the area holds no pixel, TooLarge above four thousand million pixels.
[[nodiscard]] Outcome<FilmImage> read_film(const std::filesystem::path &path, const Rect &area = {},
                                           const JobControl &control = {});

/// A film seen from afar.
struct FilmOverview
{
    int width = 0, height = 0; ///< of the film, pixels
    Dpi resolution;
    int square = 1; ///< pixels of the film on a side of one of share
    Plane share;    ///< of ink in each square, 255 = all
};

/// The whole film, its longer side in at most \p longest squares. Errors as read_film().
[[nodiscard]] Outcome<FilmOverview> read_film_overview(const std::filesystem::path &path, int longest,
                                                       const JobControl &control = {});

/// The best reading of a film with marks and art: of parts of it spread evenly, the one whose ruling is
/// clearest; coverage of all of it.
[[nodiscard]] DotReading read_film_dots(const FilmImage &film);

} // namespace bichrom
