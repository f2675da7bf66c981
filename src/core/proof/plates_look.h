/// \file
/// Plates as colours for the screen.
/// Layer: core/proof. May use core/line, core/colour.
#pragma once

#include "core/colour/process_profile.h"
#include "core/line/plate_line.h"

#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// How one plate is shown.
struct PlateShow
{
    Rgb8 ink;
    bool shown = true;
};

/// Lays the shown plates over the stock, each as a transparent film of its ink's screen
/// colour. Not a prediction of print: a picture in which every plate can be told. Ink like what is under it
/// is dotted (surface_marks.h).
/// \param pixels  width × height words 0xFFRRGGBB, rows top down without padding
void compose_plates(const PlateTile &tile, std::span<const PlateShow> plates, Rgb8 stock,
                    std::span<std::uint32_t> pixels);

/// One plate as a grey film: solid ink black, bare white.
void compose_film(const Plane &plate, std::span<std::uint32_t> pixels);

} // namespace bichrom
