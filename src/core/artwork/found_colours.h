/// \file
/// The distinct colours of a scene.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/scene.h"

namespace bichrom {

/// A colour as written, and how many objects use it.
struct FoundColour
{
    ColourUse colour;
    int objects = 0;
};

/// Distinct colours in order of first use; images and shadings, which have no single
/// colour, are left out.
[[nodiscard]] std::vector<FoundColour> find_colours(const Scene &scene);

/// "DeviceCMYK 0 0 0 100 %", "Separation Luna Green 60 %" and so on, for people.
[[nodiscard]] std::string describe(const ColourUse &colour);

} // namespace bichrom
