/// \file
/// The plates of a page that recipes compute.
/// Layer: core/plates, private to it. May use core/job.
#pragma once

#include "core/base/job_control.h"
#include "core/plates/plate_renderer.h"
#include "core/plates/recipe_masks.h"

#include <array>

namespace bichrom {

/// The recipes of a setup in the order in which they are followed, and what they look at besides plates.
/// Immutable; may be used from any thread.
class ComputedPlates
{
public:
    /// \param inks  of the planes that will be given
    /// \return one without recipes when the setup has none; as PlateRenderer::make()
    [[nodiscard]] static Outcome<ComputedPlates> make(const std::shared_ptr<const PageContent> &page,
                                                      const PlateSetup &setup, std::vector<std::string> inks,
                                                      const Scene &scene, const JobControl &control);

    [[nodiscard]] bool empty() const { return m_order.empty(); }
    /// Whether ink \p number has a recipe.
    [[nodiscard]] bool computes(std::size_t number) const;
    /// Whether anybody needs what the artwork puts on ink \p number: it has no recipe, or a recipe looks at
    /// it.
    [[nodiscard]] bool looks_at(std::size_t number) const;
    /// mm that a place of the results depends on its surroundings, through all recipes that follow each
    /// other.
    [[nodiscard]] double reach() const { return m_reach; }

    /// Computes the plates of \p tile, painted as the artwork and its routes make them. They are right
    /// reach() inside its rectangle. \param boxes  by PageBox, mm from the page's top left
    [[nodiscard]] Done follow(PlateTile &tile, Dpi resolution, Edges edges, const std::array<Rect, 5> &boxes,
                              const JobControl &control) const;

private:
    void plan(const PlateSetup &setup);

    std::string m_place;
    std::vector<std::string> m_inks;
    std::vector<Recipe> m_recipes;    ///< by ink
    std::vector<std::size_t> m_order; ///< of inks with recipes
    double m_reach = 0;
    /// Renderers whose first plates are masks, and how many.
    std::vector<std::pair<std::shared_ptr<const PlateRenderer>, std::size_t>> m_masks;
    std::vector<RecipeSource> m_sources; ///< of each mask
    int m_bare = -1;                     ///< the mask of what routes leave to the bare stock
};

} // namespace bichrom
