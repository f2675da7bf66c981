/// \file
/// Colours as reflectance in eight broad bands of the spectrum.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/colour/spaces.h"

#include <array>

namespace bichrom {

inline constexpr std::size_t band_count = 8;

/// Reflectance factors, 0 to about 1, in the bands 380–430, 440–460, 470–490, 500–530, 540–560, 570–590,
/// 600–630, 640–730 nm. Eight predict overprints as well as thirty-six; three do not.
using Bands = std::array<double, band_count>;

/// Reflectance factors, 0 to about 1, from 380 to 730 nm in steps of 10.
using Spectrum = std::array<double, 36>;
inline constexpr int spectrum_start = 380, spectrum_step = 10;

[[nodiscard]] Xyz bands_to_xyz(const Bands &bands);
[[nodiscard]] Lab bands_to_lab(const Bands &bands);
/// \param slopes  by band, how the colour changes with its reflectance, as differences of L*, a*, b*
[[nodiscard]] Lab bands_to_lab(const Bands &bands, std::array<Lab, band_count> &slopes);

/// What XYZ a unit of each band's reflectance gives; the columns add up to the white.
[[nodiscard]] const std::array<Xyz, band_count> &band_weights();

/// The smoothest reflectance between 0 and 1 that has the colour: Burns' hyperbolic tangent with the least
/// slope, squared (S. A. Burns, Color Research & Application 45, 2020, from memory), on the eight bands.
struct Reconstruction
{
    Bands bands{};
    bool exact = true; ///< false: no reflectance has this colour (a neon, for one), and the nearest stands in
};
[[nodiscard]] Reconstruction reconstruct(const Lab &lab);

/// The means of a measured spectrum in the bands, with what it takes to have exactly the colour \p lab, which
/// a mean over a band may miss a little.
[[nodiscard]] Bands bands_of(const Spectrum &measured, const Lab &lab);

} // namespace bichrom
