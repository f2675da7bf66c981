/// \file
/// What a film of ink does to the light: found from colours of its solid.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/colour/bands.h"

#include <optional>

namespace bichrom {

/// A film of ink by Kubelka & Munk (Journal of the Optical Society of America 38, 1948): over a background
/// of reflectance R it shows body + through·R / (1 − body·R), in each band.
struct InkFilm
{
    Bands body{};    ///< reflectance over perfect black
    Bands through{}; ///< squared transmittance

    /// Over a background of reflectance \p under.
    [[nodiscard]] Bands over(const Bands &under) const;
};

/// Reflectance of the surface itself, which no ink removes: taken off before and put back after.
/// Half of the darkest solid's Y on coated stock, 0.7 of it on uncoated stock.
/// \param measured  the spectrum of \p lab, where it is known
[[nodiscard]] Bands without_floor(const Lab &lab, double floor, const std::optional<Spectrum> &measured = {});

/// A film that only absorbs. \param solid, \param paper  measured, without the floor
[[nodiscard]] InkFilm transparent_film(const Bands &solid, const Bands &paper);

/// A film that has the colour \p solid over \p paper and scatters by \p scattering in every band: about 0.35
/// for half-opaque inks, 1.5 for opaque ones, 1.2 for a hit of white, 3 for a dense white. 0 gives
/// transparent_film().
[[nodiscard]] InkFilm scattering_film(const Bands &solid, const Bands &paper, double scattering);

/// The film of an ink measured as a solid over white and over black.
[[nodiscard]] InkFilm measured_film(const Bands &over_white, const Bands &over_black, const Bands &white,
                                    const Bands &black);

/// Exponent of a film printed on wet ink, on coated and on uncoated stock.
inline constexpr double wet_transfer = 0.75, wet_transfer_uncoated = 0.65;

/// How much a plate spreads in print: from tone to coverage.
class ToneGain
{
public:
    ToneGain() = default;
    /// \param at_half  what a tone of one half gains, −0.45 to 0.45, as coverage under Yule–Nielsen n = 2
    explicit ToneGain(double at_half) : m_at_half(at_half) {}
    [[nodiscard]] double coverage(double tone) const;
    /// The tone that gives \p coverage; the inverse.
    [[nodiscard]] double tone(double coverage) const;

private:
    double m_at_half = 0;
};

/// A gain at one half that was told as a Murray–Davies dot gain (0.18 for 18 %), for an ink whose darkest
/// band lets \p through of the light pass.
[[nodiscard]] double gain_from_murray_davies(double gain, double through);

} // namespace bichrom
