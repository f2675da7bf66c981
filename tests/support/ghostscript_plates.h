/// \file
/// Plates as Ghostscript's separation device makes them: an independent reader.
#pragma once

#include "core/raster/plane.h"

#include <QStringList>

#include <map>

namespace bichrom::test {

/// The plates of a one-page PDF by the names asked for, with 0 = bare: tiffsep with TextAlphaBits 4 and
/// GraphicsAlphaBits 4, no halftoning. Fails the test when Ghostscript fails or lacks one.
[[nodiscard]] std::map<QString, Plane> ghostscript_plates(const QString &pdf, int dpi,
                                                          const QStringList &inks);

/// How far two planes are apart, away from edges.
struct FlatDifference
{
    double mean = 0;       ///< absolute, of full tone
    double over_inked = 0; ///< the same sum shared out over inked pixels alone; 0 when there are none
    long long pixels = 0;
    long long inked = 0;
};
/// Sizes may differ by a pixel.
[[nodiscard]] FlatDifference flat_difference(const Plane &a, const Plane &b);

/// Mean absolute difference over all pixels that both have, of full tone.
[[nodiscard]] double mean_difference(const Plane &a, const Plane &b);

} // namespace bichrom::test
