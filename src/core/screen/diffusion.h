/// \file
/// Dots by error diffusion, for photographs.
/// Layer: core/screen. May use core/raster, core/base.
#pragma once

#include "core/base/units.h"
#include "core/raster/plane.h"

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// Error diffusion with the weights of R. Floyd and L. Steinberg (Proc. SID 17, 1976: 7, 3, 5 and 1
/// sixteenths), rows there and back, its threshold moved by blue noise so that no worms and lines grow
/// (R. Ulichney, Digital Halftoning, 1987). Dots are squares of \c dot pixels a side, at fixed places.
///
/// The film is made of squares of block_dots dots a side, by absolute position, each begun warm_dots dots
/// above and beside it: any part of a film is bit for bit that of the whole, at the price of looking that far
/// around it. Bare places stay bare and solid ones solid, to the pixel. Immutable.
class Diffusion
{
public:
    static constexpr int block_dots = 128, warm_dots = 32;

    /// \param film   the tone on film, 0 to 65536, of each tone of the plate
    /// \param dot    pixels a side of a dot, 1 to 8
    /// \param side   of the square \p noise, ranks of blue noise from 0 to 65535
    Diffusion(const std::array<std::uint32_t, 256> &film, int dot, int side,
              std::span<const std::uint16_t> noise);

    /// How far, in pixels and any direction, tones around a part decide what stands in it.
    [[nodiscard]] int reach() const { return (block_dots + warm_dots) * m_dot; }

    /// The dots in \p part of the film, from the \p tones of \p around, which has \p part and reach() pixels
    /// more on each side of it, but for where nothing is printed: what lies outside it is bare.
    [[nodiscard]] Bitmap dots(const Plane &tones, const PixelRect &around, const PixelRect &part) const;

private:
    struct Part;
    struct Rows;
    void diffuse(const Part &part, int column, int row, Rows &rows, Bitmap &film) const;

    std::array<std::int32_t, 256> m_film;
    int m_dot;
    int m_side;                             ///< of the noise
    std::vector<std::int32_t> m_thresholds; ///< about one half
};

} // namespace bichrom
