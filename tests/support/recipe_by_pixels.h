/// \file
/// Recipes followed pixel by pixel over whole planes: slow, and plain enough to be read.
#pragma once

#include "core/base/units.h"
#include "core/job/recipe.h"
#include "core/raster/plane.h"

#include <array>
#include <functional>
#include <string>

namespace bichrom::test {

/// What a recipe looks at, over one rectangle of a page.
struct PixelsAround
{
    PixelRect rect;
    Dpi resolution{300};
    bool crisp = false; ///< edges that the recipe makes are whole pixels
    Plane area;
    std::function<const Plane *(const std::string &ink)> plate; ///< null for inks unknown
    std::array<Rect, 5> boxes{};                                ///< by PageBox; mm from the page's top left
};

/// The plate that \p recipe makes. Sources are the artwork area, plates, boxes and areas drawn.
Plane recipe_by_pixels(const Recipe &recipe, const PixelsAround &around);

} // namespace bichrom::test
