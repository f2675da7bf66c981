/// \file
/// A monotone curve from one tone to another.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/outcome.h"

#include <vector>

namespace bichrom {

/// A point of a curve, both 0 to 1.
struct CurvePoint
{
    double in = 0, out = 0;
    friend bool operator==(const CurvePoint &, const CurvePoint &) = default;
};

/// A curve through points, without overshoot between them: the monotone piecewise cubic of
/// Fritsch & Carlson (SIAM J. Numer. Anal. 17, 1980) with the weighted harmonic means of Fritsch & Butland
/// (SIAM J. Sci. Stat. Comput. 5, 1984) as slopes, both from memory. Before the first point
/// and after the last it stays level. No points: every tone stays as it is.
class ToneCurve
{
public:
    ToneCurve() = default;

    /// \param points  in any order; OutOfRange when a value is outside 0 to 1, two points share their
    ///                "in", or there are more than 64
    [[nodiscard]] static Outcome<ToneCurve> through(std::vector<CurvePoint> points);

    [[nodiscard]] const std::vector<CurvePoint> &points() const { return m_points; } ///< by "in"
    [[nodiscard]] bool is_identity() const { return m_points.empty(); }

    /// \param tone  clamped to 0 … 1; the result lies between the smallest and largest "out"
    [[nodiscard]] double at(double tone) const;
    /// The tone that gives \p out, of a curve that never falls; the smallest of several, 0 or 1 beyond its
    /// ends.
    [[nodiscard]] double tone_for(double out) const;

    friend bool operator==(const ToneCurve &a, const ToneCurve &b) { return a.m_points == b.m_points; }

private:
    std::vector<CurvePoint> m_points;
    std::vector<double> m_slopes; ///< at the points
};

} // namespace bichrom
