/// \file
/// The disc that a trap's edge pixel stamps.
/// Layer: core/line, private to it.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <cstdlib>
#include <vector>

namespace bichrom {

/// A stretch of one row of the side of a disc, in columns from its middle, both of it.
struct DiscRow
{
    int dy, from, to;
};

/// How wide a disc is, by its rows from the middle down: columns on either side.
struct Disc
{
    std::vector<int> half;
    [[nodiscard]] int radius() const { return static_cast<int>(half.size()) - 1; }

    static constexpr int most_shift = 2;
    /// Its side from its own neighbour on: first all of it, then what is new of it when one has been stamped
    /// a row above and −2 … 2 columns further to that side.
    std::array<std::vector<DiscRow>, 2 + 2 * most_shift> sides;
    [[nodiscard]] const std::vector<DiscRow> &whole_side() const { return sides[0]; }
    [[nodiscard]] const std::vector<DiscRow> &new_side(int shift) const
    {
        return sides[static_cast<std::size_t>(1 + most_shift + shift)];
    }
};

/// Pixels whose centres lie within \p width of the edge of the pixel in the middle.
[[nodiscard]] inline Disc make_disc(double width)
{
    const double reach = width + 0.5;
    Disc disc;
    for (int dy = 0; dy <= static_cast<int>(std::floor(reach)); ++dy) {
        disc.half.push_back(static_cast<int>(std::floor(std::sqrt(reach * reach - double(dy) * dy))));
    }
    const int radius = disc.radius();
    const auto half_at = [&](int dy) { return disc.half[static_cast<std::size_t>(std::abs(dy))]; };
    for (std::size_t side = 0; side < disc.sides.size(); ++side) {
        const int shift = static_cast<int>(side) - 1 - Disc::most_shift;
        for (int dy = -radius; dy <= radius; ++dy) {
            int from = 1, to = half_at(dy);
            if (side > 0 && dy + 1 <= radius) {
                const int done = half_at(dy + 1) + shift;
                if (shift <= 0) {
                    from = std::max(from, done + 1);
                } else if (to <= done) {
                    to = std::min(to, shift);
                }
            }
            if (from <= to) {
                disc.sides[side].push_back({dy, from, to});
            }
        }
    }
    return disc;
}

} // namespace bichrom
