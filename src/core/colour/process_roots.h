/// \file
/// What a printing condition's process inks reflect, for many pixels.
/// Layer: core/colour.
#pragma once

#include "core/colour/bands.h"
#include "core/colour/process_profile.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <vector>

namespace bichrom {

/// Square roots of reflectance in the eight bands, media-relative, of every mixture of the four process inks:
/// a lattice of the profile's colours between which is interpolated. Roots of reflectance are nearly straight
/// in coverage: within ΔE00 0.4 of the profile, less than 0.1 on average.
class ProcessRoots
{
public:
    /// Some tenths of a second of work.
    explicit ProcessRoots(const ProcessProfile &condition);
    /// The same of inks that were measured otherwise. \param colour  of tones from 0 to 1, relative to the
    /// paper; asked for from several threads
    explicit ProcessRoots(const std::function<Lab(const Cmyk &)> &colour);

    /// Of one colour, tones from 0 to 1.
    [[nodiscard]] Bands at(const Cmyk &cmyk) const;
    /// \param slopes  by ink, how they change with its tone
    [[nodiscard]] Bands at(const std::array<double, 4> &tones, std::array<Bands, 4> &slopes) const;

    /// \param cmyk  four bytes a pixel, 0 = bare, 255 = solid \param roots  band_count floats a pixel
    void convert(const std::uint8_t *cmyk, float *roots, std::size_t count) const;

private:
    template <class Real>
    [[nodiscard]] std::array<Real, band_count> between(const std::array<Real, 4> &tones,
                                                       std::array<Bands, 4> *slopes = nullptr) const;

    static constexpr int nodes = 18; ///< along each ink: 15 tones of 255 a cell
    std::vector<std::array<float, band_count>> m_nodes;
};

} // namespace bichrom
