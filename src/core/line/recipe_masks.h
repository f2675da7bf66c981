/// \file
/// What recipes look at besides plates: where objects, layers, small text and placed files are.
/// Layer: core/line, private to it. May use core/artwork, core/job.
#pragma once

#include "core/artwork/scene.h"
#include "core/page/plate_setup.h"

#include <vector>

namespace bichrom {

/// Pages to be separated so that their plates are the masks that recipes ask for.
struct MaskPlan
{
    struct Page
    {
        PlateSetup setup;
        std::size_t masks = 0; ///< its first plates
    };
    std::vector<Page> pages;           ///< none when no recipe asks
    std::vector<RecipeSource> sources; ///< a mask each, through all pages
    int bare = -1; ///< the mask of what routes leave to the bare stock; −1 when no route does
};

/// \p setup's recipes decide what is needed. An object that several sources choose is in all their masks;
/// what lies over it hides it as it prints.
[[nodiscard]] MaskPlan plan_masks(const PlateSetup &setup, const Scene &scene);

/// The number of \p source's mask; past the end when there is none.
[[nodiscard]] std::size_t find_mask(const std::vector<RecipeSource> &sources, const RecipeSource &source);

} // namespace bichrom
