/// \file
/// How far a pixel lies from the edge of what is inked, to a part of a pixel.
/// Layer: core/raster, private to it.
///
/// Tones are anything that has a width and a height and gives the tone at (x, y).
#pragma once

#include <algorithm>
#include <cmath>

namespace bichrom {

/// How far, in pixels, the edge lies from the middle of a bare pixel towards the ink, less one half: the
/// share of it that is inked, or minus the share that its inked neighbour lacks.
template <class Tones> [[nodiscard]] float edge_shift(const Tones &tones, int x, int y)
{
    const int own = tones.at(x, y);
    if (own > 0) {
        return static_cast<float>(own) / 255.0f;
    }
    int least = 255;
    const auto look = [&](int nx, int ny) {
        if (nx >= 0 && ny >= 0 && nx < tones.width() && ny < tones.height()) {
            const int value = tones.at(nx, ny);
            least = value >= 128 ? std::min(least, value) : least;
        }
    };
    look(x - 1, y);
    look(x + 1, y);
    look(x, y - 1);
    look(x, y + 1);
    return static_cast<float>(least) / 255.0f - 1.0f;
}

/// The distance of (x, y) from the edge by the nearest bare pixel (u, v) and its neighbours: of two nearly as
/// near, the one with more ink in it is where the edge is nearest. One half more than the true distance.
template <class Tones> [[nodiscard]] double distance_to_edge(const Tones &tones, int x, int y, int u, int v)
{
    double least = 1e9;
    for (int nv = std::max(0, v - 1); nv <= std::min(tones.height() - 1, v + 1); ++nv) {
        for (int nu = std::max(0, u - 1); nu <= std::min(tones.width() - 1, u + 1); ++nu) {
            if (tones.at(nu, nv) < 128) {
                least = std::min(least, std::hypot(static_cast<double>(x - nu), static_cast<double>(y - nv)) +
                                            static_cast<double>(edge_shift(tones, nu, nv)));
            }
        }
    }
    return least;
}

} // namespace bichrom
