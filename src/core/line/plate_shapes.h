/// \file
/// A computed plate as shapes: exact where its recipe and the artwork have them, else traced.
/// Layer: core/line. May use core/raster.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/line/plate_line.h"
#include "core/raster/plane.h"
#include "core/raster/trace.h"

#include <vector>

namespace bichrom {

/// A plate as shapes of one tone, when it is that.
struct PlateShapes
{
    std::vector<Outline> outlines; ///< even-odd, from the page's top left, y down
    double scale = 1;              ///< points of a unit of theirs
    int tone = 0; ///< 1 to 255; 0 when nothing prints; −1 for several tones, then there are no outlines

    /// Whether its shapes are all of it: solid, or nothing at all.
    [[nodiscard]] bool is_solid() const { return tone == 0 || tone >= 254; } // and rounding
};

/// Plate \p number of \p plate_line, which a recipe computes. What is traced is traced at 600 dpi, large
/// pages at less. Errors as PlateLine::run().
[[nodiscard]] Outcome<PlateShapes> plate_shapes(const PlateLine &plate_line, int number,
                                                const JobControl &control = {});

/// One plate of the whole page, its edges smooth. Errors as PlateLine::run().
[[nodiscard]] Outcome<Plane> whole_plate(const PlateLine &plate_line, int number, Dpi resolution,
                                         const JobControl &control = {});

/// The finest resolution up to \p finest at which a plate of the page is at most 60 million pixels.
[[nodiscard]] Dpi plate_resolution(const PlateLine &plate_line, Dpi finest);

} // namespace bichrom
