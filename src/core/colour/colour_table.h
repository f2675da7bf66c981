/// \file
/// A table from colours of pictures to tones of inks.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <array>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>

namespace bichrom {

/// Tones of up to eight inks for every sRGB colour, by tetrahedral interpolation in a lattice. Immutable;
/// every function may be called from any thread.
class ColourTable
{
public:
    static constexpr int nodes = 33; ///< on each axis
    static constexpr std::size_t most_inks = 8;
    using Tones = std::array<float, most_inks>; ///< 0 to 1

    /// \param tones  of each node, red slowest, blue fastest
    ColourTable(std::size_t inks, const std::vector<Tones> &tones);

    [[nodiscard]] std::size_t inks() const { return m_inks; }
    /// Interleaved sRGB pixels to interleaved tones, 255 = solid; inks() of them a pixel.
    void convert(const std::uint8_t *rgb, std::uint8_t *tones, std::size_t pixels) const;
    [[nodiscard]] Tones at(const std::array<double, 3> &rgb) const; ///< 0 to 1 in, 0 to 1 out

private:
    std::size_t m_inks;
    std::vector<std::array<std::uint16_t, most_inks>> m_nodes; ///< 65535 = solid
};

} // namespace bichrom
