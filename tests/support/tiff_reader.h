/// \file
/// TIFF files as libtiff reads them: an independent look at what was written.
#pragma once

#include "core/raster/plane.h"

#include <QString>

namespace bichrom::test {

struct TiffFile
{
    int width = 0, height = 0, bits = 0, photometric = -1, compression = -1, resolution_unit = -1,
        samples = 0;
    double x_resolution = 0, y_resolution = 0;
    std::string description;
    Bitmap film; ///< 1-bit files; 1 = MinIsWhite's black
    Plane plate; ///< 8-bit files
};

/// Reads every row; fails the test when libtiff complains.
[[nodiscard]] TiffFile read_tiff(const QString &path);

} // namespace bichrom::test
