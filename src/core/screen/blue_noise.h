/// \file
/// Orders in which the places of a repeating lattice are taken so that those taken so far always lie evenly
/// scattered. Layer: core/screen.
#pragma once

#include <cstdint>
#include <vector>

namespace bichrom {

/// A Gaussian integer: a place of the whole-number lattice, or a step between two.
struct LatticeStep
{
    std::int64_t x = 0, y = 0;
    [[nodiscard]] std::int64_t norm() const { return x * x + y * y; }
    friend bool operator==(const LatticeStep &, const LatticeStep &) = default;
};

/// The whole-number lattice, alike at places that lie (step.x, step.y) or that turned by a right angle apart:
/// it has norm() different places, numbered by rows in a rectangle of the same area.
class RepeatingLattice
{
public:
    /// \param step  not 0
    explicit RepeatingLattice(LatticeStep step);

    [[nodiscard]] std::int64_t width() const { return m_width; }   ///< of the rectangle
    [[nodiscard]] std::int64_t height() const { return m_height; } ///< of the rectangle
    /// Where row \p y begins in its row of the rectangle: place (x, y) stands at (x − shift) mod width.
    [[nodiscard]] std::int64_t shift(std::int64_t y) const;
    /// The number of a place.
    [[nodiscard]] std::int64_t number(std::int64_t x, std::int64_t y) const;

private:
    std::int64_t m_width = 1, m_height = 1, m_slip = 0;
};

/// Ranks of all places of \p lattice, by number: the void-and-cluster order of R. Ulichney (Proc. SPIE 1913,
/// 1993), a Gaussian of \p sigma places as the measure of crowding. The same for the same lattice.
[[nodiscard]] std::vector<std::uint32_t> void_and_cluster(const RepeatingLattice &lattice,
                                                          double sigma = 1.5);

} // namespace bichrom
