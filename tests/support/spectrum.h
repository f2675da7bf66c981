/// \file
/// Ruling and angle of a screen, found again in its pixels by Fourier transform.
#pragma once

#include "core/raster/plane.h"

namespace bichrom::test {

struct ScreenFound
{
    double lpi = 0;
    double angle = 0; ///< degrees, anticlockwise from the horizontal, 0 to 90
};

/// Finds the strongest frequency of \p film near \p lpi and \p angle (within 8 % and 4°) by
/// maximising the windowed Fourier sum, first on a grid, then by golden-section refinement.
/// \param window  pixels on a side taken from the film's top left
[[nodiscard]] ScreenFound find_screen(const Bitmap &film, double dpi, double lpi, double angle, int window);

} // namespace bichrom::test
