/// \file
/// Every plate's value at a place: a core through the print.
/// Layer: core/proof. May use core/line.
#pragma once

#include "core/base/job_control.h"
#include "core/line/plate_line.h"

#include <vector>

namespace bichrom {

/// The resolution core samples are read at, whatever the zoom.
inline constexpr Dpi sample_resolution{300};

/// Means over the pixels of a place.
struct CoreSample
{
    std::vector<double> tones;          ///< 0 to 1, in the order of the plate line's inks
    double painted = 0;                 ///< share of the place where anything paints, 0 to 1
    [[nodiscard]] double total() const; ///< total ink coverage; 3 = 300 %
};

/// Adds up pixels, so that a place may lie across several tiles.
class SampleSum
{
public:
    /// Adds the pixels of \p place that \p tile covers.
    void add(const PlateTile &tile, const PixelRect &place);
    [[nodiscard]] CoreSample mean() const; ///< empty when no pixel was added
    [[nodiscard]] long long pixels() const { return m_pixels; }

private:
    std::vector<double> m_tones;
    double m_painted = 0;
    long long m_pixels = 0;
};

/// The square of \p side pixels around the one that holds the page point, cut to the page.
/// \param x, y  mm from the page's top left
[[nodiscard]] PixelRect sample_square(const PlateLine &plate_line, double x, double y, int side);

/// The pixels of a rectangle in mm, at least one, cut to the page.
[[nodiscard]] PixelRect sample_area(const PlateLine &plate_line, const Rect &area);

/// Renders \p place at sample_resolution, in bands, and takes the means.
/// As PlateLine::render(), and Cancelled.
[[nodiscard]] Outcome<CoreSample> take_sample(const PlateLine &plate_line, const PixelRect &place,
                                              const JobControl &control = {});

} // namespace bichrom
