/// \file
/// Plates of one rectangle of a page.
/// Layer: core/page. May use core/base, core/raster.
#pragma once

#include "core/base/units.h"
#include "core/raster/plane.h"

#include <span>
#include <vector>

namespace bichrom {

/// How the edges of shapes fall on pixels.
enum class Edges
{
    Smooth, ///< antialiased, 17 × 15 samples a pixel, for tones
    Seen,   ///< for the eye: smooth, or 4 × 4 samples a pixel where a page has thousands of objects
    Quick,  ///< antialiased, 2 × 2 samples a pixel: for looking for areas, a third to a fifth of the work
    Crisp   ///< for films: no grey. A pixel is inked when its centre lies inside, half open; nothing thin is
            ///< lost: see Shape. A picture's pixel fills all film pixels whose centres it covers
};

/// Plates of one rectangle as planes.
struct PlateTile
{
    PixelRect rect;
    std::vector<Plane> plates; ///< in the order of the setup's inks
    Plane area;                ///< where anything paints at all, 0 to 255
};

/// \p tile with each of its planes, the artwork area too, \p changed to one of \p rect.
template <class Change>
[[nodiscard]] PlateTile each_plane(const PlateTile &tile, const PixelRect &rect, const Change &changed)
{
    PlateTile made;
    made.rect = rect;
    for (const Plane &plane : tile.plates) {
        made.plates.push_back(changed(plane));
    }
    made.area = changed(tile.area);
    return made;
}

/// Row \p y of \p rect, a part of \p tile, in one of its planes.
[[nodiscard]] inline std::span<const std::uint8_t> part_of_row(const PlateTile &tile, const Plane &plane,
                                                               const PixelRect &rect, int y)
{
    return plane.row(rect.y - tile.rect.y + y)
        .subspan(static_cast<std::size_t>(rect.x - tile.rect.x), static_cast<std::size_t>(rect.width));
}

} // namespace bichrom
