/// \file
/// What a stage draws over the light table: places of the page, told by pattern.
/// Layer: app/models. May use core/raster.
#pragma once

#include "core/base/units.h"
#include "core/raster/bit_plane.h"

#include <memory>
#include <vector>

namespace bichrom {

enum class OverlayPattern
{
    Solid, ///< near black
    Lamp,  ///< amber: it needs the artist
    Hatch, ///< slanted lines
    Cross, ///< lines both ways
    Dots
};

/// Some places of the shown page, from its top left.
struct OverlayLayer
{
    std::shared_ptr<const BitPlane> places;
    OverlayPattern pattern = OverlayPattern::Solid;
};

struct Overlay
{
    Dpi resolution{600};
    std::vector<OverlayLayer> layers; ///< the last on top
    bool fades = true;                ///< the page under it is shown pale
};

} // namespace bichrom
