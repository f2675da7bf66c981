#include "core/colour/index_dots.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

Xyz root_of(const Xyz &light)
{
    return {std::sqrt(std::max(0.0, light[0])), std::sqrt(std::max(0.0, light[1])),
            std::sqrt(std::max(0.0, light[2]))};
}

/// The number of the nearest of \p colours that may stand for \p wish, which is asked for where hues are
/// held.
std::uint8_t nearest(const Lab &looked_for, const Xyz &wish, std::span<const IndexColour> colours)
{
    constexpr double half = 0.5; // of an ink that fades out of its hues
    std::size_t best = 0;
    double least = -1;
    for (std::size_t i = 0; i < colours.size(); ++i) {
        if (colours[i].hues.holds() && colours[i].hues.share(xyz_to_lab(wish)) < half) {
            continue;
        }
        const Lab &one = colours[i].printed;
        const double l = one.l - looked_for.l, a = one.a - looked_for.a, b = one.b - looked_for.b;
        const double away = l * l + a * a + b * b;
        if (least < 0 || away < least) {
            best = i;
            least = away;
        }
    }
    return static_cast<std::uint8_t>(best);
}

} // namespace

Outcome<std::vector<std::uint8_t>> index_dots(const IndexGrid &grid, std::span<const IndexColour> colours,
                                              bool diffused, const JobControl &control)
{
    if (colours.empty() || colours.size() >= no_index) {
        return Error{ErrorCode::OutOfRange, "Dots are one of 1 to 254 colours.", {}, {}};
    }
    constexpr double farthest = 1; // the white: what cannot be reached is not piled up
    std::vector<Xyz> printed;
    for (const IndexColour &colour : colours) {
        printed.push_back(root_of(lab_to_xyz(colour.printed)));
    }
    const auto width = static_cast<std::size_t>(grid.width);
    std::vector<std::uint8_t> dots(grid.wish.size(), no_index);
    std::vector<Xyz> here(width + 2, Xyz{}), below(width + 2, Xyz{}); // errors; a column more on either side
    for (int y = 0; y < grid.height; ++y) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
        }
        const bool leftwards = y % 2 == 1;
        for (std::size_t step = 0; step < width; ++step) {
            const std::size_t x = leftwards ? width - 1 - step : step;
            const std::size_t at = static_cast<std::size_t>(y) * width + x;
            if (!grid.bare.empty() && grid.bare[at] != 0) {
                continue;
            }
            Xyz wanted = root_of(grid.wish[at]);
            for (std::size_t i = 0; i < wanted.size(); ++i) {
                wanted[i] += std::clamp(here[x + 1][i], -farthest, farthest);
            }
            Xyz light = wanted;
            for (double &one : light) {
                one = one > 0 ? one * one : 0;
            }
            dots[at] = nearest(xyz_to_lab(light), grid.wish[at], colours);
            if (!diffused) {
                continue;
            }
            const std::size_t before = leftwards ? x + 2 : x, after = leftwards ? x : x + 2;
            for (std::size_t i = 0; i < wanted.size(); ++i) {
                const double off = (wanted[i] - printed[dots[at]][i]) / 16;
                here[after][i] += 7 * off;
                below[before][i] += 3 * off;
                below[x + 1][i] += 5 * off;
                below[after][i] += off;
            }
        }
        std::swap(here, below);
        std::fill(below.begin(), below.end(), Xyz{});
    }
    return dots;
}

} // namespace bichrom
