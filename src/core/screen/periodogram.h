/// \file
/// What repeats in a picture, by Fourier transform.
/// Layer: core/screen. May use core/base. Eigen stays inside.
#pragma once

#include "core/base/units.h"

#include <functional>
#include <vector>

namespace bichrom {

/// Amplitudes of the frequencies in a square, as shares of full ink: half the swing of a cosine. Its edges
/// are faded out (four-term window of Blackman and Harris; F. J. Harris, Proc. IEEE 66, 1978).
class Periodogram
{
public:
    /// \param side   a power of two
    /// \param value  of a pixel, 0 to 1
    Periodogram(int side, const std::function<float(int x, int y)> &value);

    [[nodiscard]] int side() const { return m_side; }
    /// At a frequency in periods a window, of either sign.
    [[nodiscard]] double amplitude(int u, int v) const
    {
        const auto wrap = [&](int i) { return static_cast<std::size_t>((i % m_side + m_side) % m_side); };
        return static_cast<double>(m_amplitude[wrap(v) * static_cast<std::size_t>(m_side) + wrap(u)]);
    }
    /// The largest amplitude within two steps of a frequency.
    [[nodiscard]] double near(double u, double v) const;

private:
    int m_side;
    std::vector<float> m_amplitude;
};

/// Something that repeats evenly.
struct Peak
{
    double u = 0, v = 0; ///< periods a window, v down
    double amplitude = 0;
    double beside = 0; ///< the amplitude a quarter turn on, where a lattice is as strong
    [[nodiscard]] double frequency() const;
    /// Whether it repeats in this direction only.
    [[nodiscard]] bool lines() const;
    /// Degrees, anticlockwise: along the lines, 0 to 180, or of a lattice's nearest direction, 0 to 90.
    [[nodiscard]] double angle() const;
};

/// The strongest peaks in the half plane that stand alone, strongest first; what repeats more coarsely than 8
/// times an inch, or fewer than 6 times in the window, is a picture's own contents.
/// \param least  amplitude
[[nodiscard]] std::vector<Peak> find_peaks(const Periodogram &periodogram, double least, Dpi resolution);

} // namespace bichrom
