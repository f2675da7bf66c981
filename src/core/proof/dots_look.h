/// \file
/// The true dots of a film, at any zoom.
/// Layer: core/proof. May use core/line, core/screen.
#pragma once

#include "core/line/plate_line.h"
#include "core/screen/halftone.h"

#include <span>

namespace bichrom {

/// Film pixels a view pixel may span in each direction; beyond it dots cannot be seen.
inline constexpr double most_film_pixels = 8.0;

/// The films' own pixels, 1 = ink, of each plate in \p rect, which counts in them. Errors as
/// PlateLine::render().
[[nodiscard]] Outcome<std::vector<Bitmap>> film_dots(const PlateLine &plate_line,
                                                     std::span<const Halftone> screens, PixelRect rect,
                                                     Dpi film, const JobControl &control = {});

/// Renders \p rect of the page as it will stand on film. View pixels are 72/view points
/// wide. The film's own pixels are computed with the same screens as the films that are
/// written, then repeated, or averaged over the whole pixels under each view pixel.
/// \return planes of 0 to 255 (ink share of the view pixel); OutOfRange when a view pixel
/// spans more than most_film_pixels; Cancelled
[[nodiscard]] Outcome<PlateTile> render_dots(const PlateLine &plate_line, std::span<const Halftone> screens,
                                             PixelRect rect, Dpi view, Dpi film,
                                             const JobControl &control = {});

} // namespace bichrom
