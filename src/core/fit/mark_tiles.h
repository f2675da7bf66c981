/// \file
/// Marks and words as film pixels.
/// Layer: core/fit. May use core/raster.
#pragma once

#include "core/base/outcome.h"
#include "core/fit/film_text.h"
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

/// The largest multiple of 64 that is not larger.
[[nodiscard]] int floor_64(int x);

/// Solid pixels.
[[nodiscard]] MarkTile solid_mark(PixelRect area);

/// A cross as large as \p area, which is square, with a ring around its middle or without; lines of \p line
/// pixels.
[[nodiscard]] MarkTile registration_mark(PixelRect area, int line, bool ring);

/// A ring as large as \p area, which is square, and a disc a sixth as wide in its middle, where a pin goes.
[[nodiscard]] MarkTile pin_target(PixelRect area, int line);

/// \p text, one line of \p em pixels to the em, in a tile from \p x, \p y on that is \p height pixels high
/// and at most \p room wide. Errors as FilmText::add().
[[nodiscard]] Outcome<MarkTile> text_tile(const FilmText &words, const std::string &text, double em, int x,
                                          int y, int room, int height);

/// Splits \p label at blanks into lines no wider than \p room pixels at \p em pixels to the em; a word wider
/// than that is a line of its own.
[[nodiscard]] std::vector<std::string> break_lines(const FilmText &words, const std::string &label, double em,
                                                   int room);

/// Lays \p tile onto rows [top, top + rows.height) of a film as wide as the sheet.
void lay_tile(const MarkTile &tile, int top, Bitmap &rows);

} // namespace bichrom
