/// \file
/// From page pixels back to what lies on them.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <cmath>
#include <optional>

namespace bichrom {

/// From page pixels to another space.
struct Backwards
{
    double a, b, c, d, e, f;
    [[nodiscard]] double x(double px, double py) const { return a * px + c * py + e; }
    [[nodiscard]] double y(double px, double py) const { return b * px + d * py + f; }
    /// To a picture's own pixels, of which so many lie in the unit square.
    [[nodiscard]] Backwards in_pixels(int width, int height) const
    {
        return {a * width, b * height, c * width, d * height, e * width, f * height};
    }
};

/// Nothing when \p m leaves no area.
inline std::optional<Backwards> turned_around(const fz_matrix &m)
{
    const double a = static_cast<double>(m.a), b = static_cast<double>(m.b), c = static_cast<double>(m.c),
                 d = static_cast<double>(m.d), e = static_cast<double>(m.e), f = static_cast<double>(m.f);
    const double det = a * d - b * c;
    const bool finite = std::isfinite(det) && std::isfinite(e) && std::isfinite(f);
    if (!finite || !(std::fabs(det) > 1e-12)) {
        return std::nullopt;
    }
    return Backwards{d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det};
}

} // namespace bichrom
