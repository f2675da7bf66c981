/// \file
/// Plates computed by recipes from the planes of others.
/// Layer: core/line. May use core/job, core/raster.
#pragma once

#include "core/base/units.h"
#include "core/job/recipe.h"
#include "core/raster/plane.h"

#include <array>
#include <functional>
#include <string>

namespace bichrom {

/// What a recipe works on: planes of one rectangle of a page.
struct RecipeInput
{
    PixelRect rect;
    Dpi resolution{300};
    const Plane *area = nullptr; ///< the artwork area without what routes leave to the bare stock; never null
    const Plane *whole = nullptr; ///< with it; never null
    /// The plane of an ink, as its recipe or, without one, the artwork and routes make it; null for inks
    /// unknown.
    std::function<const Plane *(const std::string &ink)> plate;
    /// Where objects, a layer or small text are seen, or a placed file paints; null when it is not known.
    std::function<const Plane *(const RecipeSource &source)> mask;
    std::array<Rect, 5> boxes;       ///< by PageBox; mm from the page's top left, y down
    double media_x = 0, media_y = 0; ///< mm from the page's top left to the media box's
};

/// Follows \p recipe, a step at a time. Results are exact reach_of(recipe) mm inside the rectangle: give it a
/// rim as wide. Same bits whatever the rectangle beyond that.
[[nodiscard]] Plane follow_recipe(const Recipe &recipe, const RecipeInput &input);

} // namespace bichrom
