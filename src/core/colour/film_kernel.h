/// \file
/// How one film of ink changes one place in one band: the arithmetic that single colours and pixels share.
/// Layer: core/colour.
#pragma once

#include <algorithm>
#include <cmath>

namespace bichrom {

/// A film in one band (ink_film.h), as float for pixels or double for single colours.
template <class Real> struct FilmInBand
{
    Real body;        ///< reflectance over perfect black
    Real through;     ///< squared transmittance
    Real wet_through; ///< the same where it lies on wet ink
};

/// The root of reflectance of a film that lets \p through pass, over what has the root \p under.
template <class Real> inline Real root_over(Real under, Real body, Real through)
{
    const Real r = under * under;
    return std::sqrt(std::max(Real(0), body + through * r / (Real(1) - body * r)));
}

/// How fast root_over() grows with \p under, where it is \p root.
template <class Real> inline Real slope_over(Real under, Real body, Real through, Real root)
{
    const Real below = Real(1) - body * under * under;
    return through * under / (below * below * std::max(root, Real(1e-9)));
}

/// The root of what process ink lets through, of which the condition's colours have the root \p root: they
/// hold the floor already.
template <class Real> inline Real root_passed(Real root, Real floor)
{
    return std::sqrt(std::max(Real(0), (root * root - floor) / (Real(1) - floor)));
}

/// Lays a film on what is dry. \param dry  mean root of reflectance \param cover  0 to 1
template <class Real> inline Real laid_dry(Real dry, Real cover, const FilmInBand<Real> &film)
{
    return dry + cover * (root_over(dry, film.body, film.through) - dry);
}

/// Lays a film of a group printed wet on wet (Yule–Nielsen, n = 2). \return the mean root of what carries wet
/// ink afterwards \param inked  the same before \param bare  share without wet ink before
template <class Real>
inline Real laid_wet(Real dry, Real inked, Real bare, Real cover, const FilmInBand<Real> &film)
{
    const Real share = Real(1) - bare + cover * bare;
    const Real on_wet = (Real(1) - cover) * inked + cover * root_over(inked, film.body, film.wet_through);
    const Real on_dry = root_over(dry, film.body, film.through);
    const Real next = ((Real(1) - bare) * on_wet + cover * bare * on_dry) / std::max(share, Real(1e-6));
    return share > Real(0) ? next : inked;
}

} // namespace bichrom
