/// \file
/// What a job's recipes ask for, compiled once: their order, how far they look, who needs which plane.
/// Layer: core/line, private to it. May use core/job, core/page.
#pragma once

#include "core/base/job_control.h"
#include "core/line/recipe_masks.h"
#include "core/page/plate_tile.h"

#include <array>

namespace bichrom {

/// A rectangle of the page as painted: its plates, and the planes only recipes look at.
struct PaintedTile
{
    PlateTile tile;
    std::vector<Plane> masks; ///< as MaskPlan numbers them
};

/// The recipes of a setup in the order in which they are followed. Immutable; may be used from any thread.
class PlatePlan
{
public:
    PlatePlan() = default;
    /// \param inks  of the planes that will be given
    PlatePlan(const PlateSetup &setup, std::vector<std::string> inks, const Scene &scene);

    /// Whether nothing is computed.
    [[nodiscard]] bool empty() const { return m_order.empty(); }
    /// Whether ink \p number has a recipe.
    [[nodiscard]] bool computes(std::size_t number) const;
    /// By ink, whether anybody needs what the artwork puts on it: it has no recipe, or a recipe looks at it.
    [[nodiscard]] std::vector<bool> needed() const;
    /// By ink, whether a recipe looks at it.
    [[nodiscard]] std::vector<bool> read() const;
    /// mm that a place of the results depends on its surroundings, through all recipes that follow each
    /// other.
    [[nodiscard]] double reach() const { return m_reach; }
    /// Pages to be painted so that their plates are what recipes look at besides plates.
    [[nodiscard]] const MaskPlan &masks() const { return m_masks; }

    /// Computes the plates of \p painted. They are right reach() inside its rectangle.
    /// \param boxes  by PageBox, mm from the page's top left
    /// \return Cancelled
    [[nodiscard]] Done follow(PaintedTile &painted, Dpi resolution, const std::array<Rect, 5> &boxes,
                              const JobControl &control) const;

private:
    void order(const PlateSetup &setup);

    std::vector<std::string> m_inks;
    std::vector<Recipe> m_recipes;    ///< by ink
    std::vector<std::size_t> m_order; ///< of inks with recipes
    double m_reach = 0;
    MaskPlan m_masks;
};

} // namespace bichrom
