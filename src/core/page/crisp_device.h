/// \file
/// Hard edges where films are painted by pixels.
/// Layer: core/page, private to it. May use core/raster.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/base/units.h"

namespace bichrom {

/// While it lives, crisp devices of this thread paint \p part of a page of the size \p page. One at a time.
class CrispScope
{
public:
    CrispScope(const PixelRect &page, const PixelRect &part);
    ~CrispScope();
    CrispScope(const CrispScope &) = delete;
    CrispScope &operator=(const CrispScope &) = delete;
};

/// Changes a draw device so that it fills, strokes and clips by whole pixels, as Shape says: outlines are
/// turned into the pixels that they ink before the device sees them. MuPDF's own rasterisers of hard edges
/// ink other pixels, and paint transparent groups wrongly. Its antialiasing rasteriser does nothing to whole
/// pixels. After guard_draw_device(), within a CrispScope.
void make_crisp(fz_device *draw_device);

} // namespace bichrom
